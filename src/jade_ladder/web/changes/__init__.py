"""What a change leads to, and making it."""
