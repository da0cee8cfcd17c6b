"""Jade Ladder: for teachers who grade against standards."""

__version__ = "0.1.0"
