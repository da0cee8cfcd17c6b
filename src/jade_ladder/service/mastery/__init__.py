"""Mastery: walls, trails, judgements, methods compared."""
