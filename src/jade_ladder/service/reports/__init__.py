"""Sheets to hand out, on paper or as CSV."""
