"""Classes and their students."""
