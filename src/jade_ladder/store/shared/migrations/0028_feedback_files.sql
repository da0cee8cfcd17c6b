-- Recordings and files that a mark is given back with, from one version of it to before another, as
-- choices stand. `key` is its own through all versions. It is on a criterion or on a passage (by
-- their keys), else on the whole. Of one that was deleted, `file_id` is NULL.
CREATE TABLE mark_file (
  id INTEGER PRIMARY KEY,
  mark_id INTEGER NOT NULL REFERENCES mark (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('recording', 'file')),
  criterion_key TEXT,
  passage_key TEXT,
  name TEXT NOT NULL,
  words TEXT NOT NULL,
  seconds INTEGER NOT NULL DEFAULT 0,
  file_id INTEGER REFERENCES file (id),
  since_version INTEGER NOT NULL,
  until_version INTEGER,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id)
) STRICT;
CREATE INDEX mark_file_of_mark ON mark_file (mark_id, key);
CREATE INDEX mark_file_file ON mark_file (file_id) WHERE file_id IS NOT NULL;
