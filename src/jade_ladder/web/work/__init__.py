"""Tasks and attempts."""
