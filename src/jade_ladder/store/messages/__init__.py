"""What people are told, in the application and by mail."""
