"""Small stand-ins for outside services, each behind the interface that a real one has."""
