-- A task is a draft until it is set: at once, or from a time on. It is for all students of the class,
-- or for those who are chosen; some have times of their own.
ALTER TABLE task ADD COLUMN set_at TEXT;
UPDATE task SET set_at = made_at;
ALTER TABLE task ADD COLUMN for_all INTEGER NOT NULL DEFAULT 1 CHECK (for_all IN (0, 1));
ALTER TABLE task ADD COLUMN category TEXT NOT NULL DEFAULT '';
ALTER TABLE task_student ADD COLUMN chosen INTEGER NOT NULL DEFAULT 0 CHECK (chosen IN (0, 1));
ALTER TABLE task_student ADD COLUMN due_at TEXT;
ALTER TABLE task_student ADD COLUMN closes_at TEXT;
