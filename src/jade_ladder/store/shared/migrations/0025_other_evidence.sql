-- A further kind of task: other evidence, of which the teacher enters what was seen, several entries
-- for a student. A task asks all criteria of its rubric, or some: `asked` are their keys, which are
-- the same in every revision, as a JSON array.
CREATE TABLE new_task (
  id INTEGER PRIMARY KEY,
  class_id INTEGER NOT NULL REFERENCES school_class (id),
  revision_id INTEGER NOT NULL REFERENCES revision (id),
  title TEXT NOT NULL,
  instructions TEXT NOT NULL DEFAULT '',
  kind TEXT NOT NULL CHECK (kind IN ('handed-in', 'observed', 'other-evidence')),
  due_at TEXT,
  points INTEGER,
  practice INTEGER NOT NULL DEFAULT 0 CHECK (practice IN (0, 1)),
  attempts_rule TEXT NOT NULL DEFAULT 'latest',
  made_at TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1,
  closes_at TEXT,
  rubric_shown INTEGER NOT NULL DEFAULT 1 CHECK (rubric_shown IN (0, 1)),
  total_shown INTEGER NOT NULL DEFAULT 1 CHECK (total_shown IN (0, 1)),
  late_per_day INTEGER NOT NULL DEFAULT 0 CHECK (late_per_day BETWEEN 0 AND 100),
  late_most INTEGER NOT NULL DEFAULT 100 CHECK (late_most BETWEEN 0 AND 100),
  set_at TEXT,
  for_all INTEGER NOT NULL DEFAULT 1 CHECK (for_all IN (0, 1)),
  category TEXT NOT NULL DEFAULT '',
  starting_text TEXT NOT NULL DEFAULT '',
  asked TEXT CHECK (asked IS NULL OR json_valid(asked))
) STRICT;

INSERT INTO new_task
SELECT id, class_id, revision_id, title, instructions, kind, due_at, points, practice,
       attempts_rule, made_at, version, closes_at, rubric_shown, total_shown, late_per_day,
       late_most, set_at, for_all, category, starting_text, NULL
FROM task;

DROP TABLE task;
ALTER TABLE new_task RENAME TO task;
CREATE INDEX task_of_class ON task (class_id);
CREATE INDEX task_of_revision ON task (revision_id);
