-- Observation notes: what was seen of a student on one outcome, without a task. `key` is the
-- writer's own, so that a note sent twice is one. Each change is a version; `level` counts from 0,
-- of so many `levels` as the outcome's scale had.
CREATE TABLE note (
  id INTEGER PRIMARY KEY,
  key TEXT NOT NULL,
  class_id INTEGER NOT NULL REFERENCES school_class (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES person (id),
  outcome_id INTEGER NOT NULL REFERENCES outcome (id),
  version INTEGER NOT NULL CHECK (version > 0),
  written_at TEXT NOT NULL,
  written_by INTEGER NOT NULL REFERENCES person (id),
  shown_at TEXT,
  UNIQUE (written_by, key, student_id)
) STRICT;
CREATE INDEX note_of_student ON note (student_id, outcome_id);
CREATE INDEX note_of_class ON note (class_id);

CREATE TABLE note_version (
  note_id INTEGER NOT NULL REFERENCES note (id) ON DELETE CASCADE,
  version INTEGER NOT NULL,
  level INTEGER NOT NULL CHECK (level >= 0),
  levels INTEGER NOT NULL CHECK (levels > level),
  half_way INTEGER NOT NULL CHECK (half_way IN (0, 1)),
  words TEXT NOT NULL,
  seen_at TEXT NOT NULL,
  withdrawn INTEGER NOT NULL CHECK (withdrawn IN (0, 1)),
  -- Why it does not count, since when, and who said so.
  aside TEXT,
  aside_at TEXT,
  aside_by INTEGER REFERENCES person (id),
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id),
  PRIMARY KEY (note_id, version)
) STRICT, WITHOUT ROWID;

CREATE TABLE note_file (
  id INTEGER PRIMARY KEY,
  note_id INTEGER NOT NULL REFERENCES note (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('recording', 'file')),
  name TEXT NOT NULL,
  seconds INTEGER NOT NULL DEFAULT 0,
  file_id INTEGER REFERENCES file (id),
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id),
  UNIQUE (note_id, key)
) STRICT;
CREATE INDEX note_file_file ON note_file (file_id) WHERE file_id IS NOT NULL;
