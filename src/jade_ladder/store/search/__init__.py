"""Finding anything."""
