-- What late work costs: so many per cent of the task's points per started day, up to so many.
ALTER TABLE task ADD COLUMN late_per_day INTEGER NOT NULL DEFAULT 0
  CHECK (late_per_day BETWEEN 0 AND 100);
ALTER TABLE task ADD COLUMN late_most INTEGER NOT NULL DEFAULT 100
  CHECK (late_most BETWEEN 0 AND 100);
