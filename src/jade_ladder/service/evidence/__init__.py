"""Evidence that counts, by what it is read, and what a class stands on."""
