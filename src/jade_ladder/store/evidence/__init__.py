"""Evidence: kept, set aside, and where it is from."""
