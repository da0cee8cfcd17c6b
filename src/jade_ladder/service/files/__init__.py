"""Files: bringing them in piece by piece, what is shown of them, and sweeping."""
