"""Files: bringing them in, and sending them."""
