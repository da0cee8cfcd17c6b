"""Observing in the room."""
