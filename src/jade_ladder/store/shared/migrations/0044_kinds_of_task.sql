-- Kinds of task are rows, and a task has a rubric where its kind has one (core/task_kinds.py).
CREATE TABLE task_kind (
  kind TEXT PRIMARY KEY,
  rubric INTEGER NOT NULL CHECK (rubric IN (0, 1))
) STRICT, WITHOUT ROWID;
INSERT INTO task_kind VALUES ('handed-in', 1), ('observed', 1), ('other-evidence', 1);

CREATE TABLE new_task (
  id INTEGER PRIMARY KEY,
  class_id INTEGER NOT NULL REFERENCES school_class (id),
  revision_id INTEGER REFERENCES revision (id),
  title TEXT NOT NULL,
  instructions TEXT NOT NULL DEFAULT '',
  kind TEXT NOT NULL REFERENCES task_kind (kind),
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
  asked TEXT CHECK (asked IS NULL OR json_valid(asked)),
  instructions_html TEXT
) STRICT;

INSERT INTO new_task
SELECT id, class_id, revision_id, title, instructions, kind, due_at, points, practice,
       attempts_rule, made_at, version, closes_at, rubric_shown, total_shown, late_per_day,
       late_most, set_at, for_all, category, starting_text, asked, instructions_html
FROM task;

DROP TABLE task;
ALTER TABLE new_task RENAME TO task;
CREATE INDEX task_of_class ON task (class_id);
CREATE INDEX task_of_revision ON task (revision_id);

-- As in 0041: a task that was made anew lost its trigger.
CREATE TRIGGER stale_by_changed_task AFTER UPDATE OF class_id, practice ON task
WHEN (OLD.class_id, OLD.practice) IS NOT (NEW.class_id, NEW.practice) BEGIN
  INSERT INTO stale_evidence VALUES ('task', NEW.id);
END;

CREATE TRIGGER rubric_of_new_task BEFORE INSERT ON task
WHEN (SELECT rubric FROM task_kind WHERE kind = NEW.kind) <> (NEW.revision_id IS NOT NULL) BEGIN
  SELECT RAISE(ABORT, 'a task has a rubric where its kind has one');
END;
CREATE TRIGGER rubric_of_changed_task BEFORE UPDATE OF kind, revision_id ON task
WHEN (SELECT rubric FROM task_kind WHERE kind = NEW.kind) <> (NEW.revision_id IS NOT NULL) BEGIN
  SELECT RAISE(ABORT, 'a task has a rubric where its kind has one');
END;
