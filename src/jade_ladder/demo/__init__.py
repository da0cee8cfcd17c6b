"""The demo school, made through the services from a fixed seed."""
