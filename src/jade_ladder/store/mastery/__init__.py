"""Judgements, what is not expected, coverage."""
