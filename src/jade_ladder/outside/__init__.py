"""Services outside of this machine."""
