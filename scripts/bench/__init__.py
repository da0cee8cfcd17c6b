"""What is measured, as ratios in one run: make bench."""
