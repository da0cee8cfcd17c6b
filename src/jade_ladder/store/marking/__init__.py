"""Marking."""
