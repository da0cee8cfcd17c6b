-- Evidence that a teacher keeps on record and does not count, with why, until it counts again.
CREATE TABLE evidence_set_aside (
  id INTEGER PRIMARY KEY,
  attempt_id INTEGER NOT NULL REFERENCES attempt (id) ON DELETE CASCADE,
  outcome_id INTEGER NOT NULL REFERENCES outcome (id),
  reason TEXT NOT NULL,
  set_aside_at TEXT NOT NULL,
  set_aside_by INTEGER NOT NULL REFERENCES person (id),
  counts_again_at TEXT,
  counts_again_by INTEGER REFERENCES person (id)
) STRICT;
CREATE UNIQUE INDEX evidence_set_aside_now ON evidence_set_aside (attempt_id, outcome_id)
  WHERE counts_again_at IS NULL;
CREATE INDEX evidence_set_aside_of_outcome ON evidence_set_aside (outcome_id);
