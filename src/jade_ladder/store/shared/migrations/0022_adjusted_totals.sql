-- What a teacher says of a mark's total, from one version to before another, as choices stand.
CREATE TABLE mark_adjustment (
  id INTEGER PRIMARY KEY,
  mark_id INTEGER NOT NULL REFERENCES mark (id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('line', 'waived', 'by-hand')),
  amount INTEGER NOT NULL,
  reason TEXT NOT NULL,
  since_version INTEGER NOT NULL,
  until_version INTEGER,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id)
) STRICT;
CREATE INDEX mark_adjustment_of_mark ON mark_adjustment (mark_id);
