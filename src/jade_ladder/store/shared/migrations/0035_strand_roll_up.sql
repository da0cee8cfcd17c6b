-- What a strand comes to for a student: the mean of its outcomes, or the lowest of them.
ALTER TABLE school_class ADD COLUMN strand_roll_up TEXT NOT NULL DEFAULT 'mean'
  CHECK (strand_roll_up IN ('mean', 'lowest'));
