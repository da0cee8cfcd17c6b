"""Accounts, signing in, notices."""
