"""What every room needs."""
