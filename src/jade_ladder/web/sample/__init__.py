"""A sample class to look at, deleted whole."""
