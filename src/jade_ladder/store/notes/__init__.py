"""Observation notes."""
