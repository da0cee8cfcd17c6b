"""Outcomes, strands, scales and methods."""
