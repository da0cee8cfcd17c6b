"""What people do: one module per subject, one function per deed. No HTTP, no SQL."""
