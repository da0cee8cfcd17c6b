"""Over all of a class, and over all classes: what waits, what moved, and how it came about."""
