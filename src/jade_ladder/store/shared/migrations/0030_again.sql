-- Another attempt: by when it is due (told; nothing is deducted by it), and what was met, as it
-- counted when the attempt was opened. `attempt_id` is the attempt after which it was opened, and
-- `from_number` the number of the attempt that it was chosen in.
ALTER TABLE wish ADD COLUMN due_at TEXT;

CREATE TABLE carried_choice (
  attempt_id INTEGER NOT NULL REFERENCES attempt (id) ON DELETE CASCADE,
  criterion_key TEXT NOT NULL,
  level_key TEXT NOT NULL,
  half_way INTEGER NOT NULL CHECK (half_way IN (0, 1)),
  from_number INTEGER NOT NULL CHECK (from_number > 0),
  PRIMARY KEY (attempt_id, criterion_key)
) STRICT;

-- A choice that was carried over has the number of the attempt that it was made in; alone it is no
-- evidence.
ALTER TABLE mark_choice ADD COLUMN carried_from INTEGER CHECK (carried_from > 0);
