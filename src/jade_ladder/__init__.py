"""Jade Ladder: for teachers who grade against standards."""

__version__ = "0.2.0"
