"""What students see: their tasks, what was handed back, their ladder."""
