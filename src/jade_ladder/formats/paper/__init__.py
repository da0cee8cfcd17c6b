"""What is made to be printed or kept as PDF."""
