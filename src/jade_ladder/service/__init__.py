"""What people do: a room per subject, one function per operation. No HTTP, no SQL."""
