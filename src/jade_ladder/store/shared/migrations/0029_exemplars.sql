-- Pieces of work with agreed levels, beside which others are marked by the same rubric: the levels
-- are those of that version of the teacher's mark.
CREATE TABLE exemplar (
  id INTEGER PRIMARY KEY,
  rubric_id INTEGER NOT NULL REFERENCES rubric (id) ON DELETE CASCADE,
  attempt_id INTEGER NOT NULL REFERENCES attempt (id) ON DELETE CASCADE,
  version INTEGER NOT NULL,
  title TEXT NOT NULL,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id),
  UNIQUE (rubric_id, attempt_id)
) STRICT;
