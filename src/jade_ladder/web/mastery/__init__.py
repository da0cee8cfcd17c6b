"""Evidence and mastery."""
