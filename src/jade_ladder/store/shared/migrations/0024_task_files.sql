-- Files that come with a task; of a starting one, and of the starting text, each student gets a copy.
ALTER TABLE task ADD COLUMN starting_text TEXT NOT NULL DEFAULT '';
CREATE TABLE task_file (
  id INTEGER PRIMARY KEY,
  task_id INTEGER NOT NULL REFERENCES task (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  file_id INTEGER NOT NULL REFERENCES file (id),
  sent_hash TEXT NOT NULL,
  starting INTEGER NOT NULL CHECK (starting IN (0, 1)),
  upload_id INTEGER UNIQUE,
  added_at TEXT NOT NULL,
  added_by INTEGER NOT NULL REFERENCES person (id)
) STRICT;
CREATE INDEX task_file_of_task ON task_file (task_id);
CREATE INDEX task_file_file ON task_file (file_id);
