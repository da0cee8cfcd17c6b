"""Rubrics, drafts and the library."""
