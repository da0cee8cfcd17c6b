"""What waits for a teacher in all of their classes."""
