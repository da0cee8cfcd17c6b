-- Students sign in with a name of their own; the key is the name as it is compared.
ALTER TABLE person ADD COLUMN sign_in_name TEXT;
ALTER TABLE person ADD COLUMN sign_in_key TEXT;
CREATE UNIQUE INDEX person_sign_in_key ON person (sign_in_key) WHERE sign_in_key IS NOT NULL;

-- A session that ends by itself when nothing was done for a while: not on one's own device.
ALTER TABLE session ADD COLUMN idle INTEGER NOT NULL DEFAULT 0 CHECK (idle IN (0, 1));

-- After closes_at nothing is handed in any more. What students see: the rubric beforehand, the total
-- when it is handed back.
ALTER TABLE task ADD COLUMN closes_at TEXT;
ALTER TABLE task ADD COLUMN rubric_shown INTEGER NOT NULL DEFAULT 1 CHECK (rubric_shown IN (0, 1));
ALTER TABLE task ADD COLUMN total_shown INTEGER NOT NULL DEFAULT 1 CHECK (total_shown IN (0, 1));

ALTER TABLE task_student ADD COLUMN opened_at TEXT;

-- What a student writes before it is handed in.
CREATE TABLE draft_work (
  task_student_id INTEGER PRIMARY KEY REFERENCES task_student (id) ON DELETE CASCADE,
  text TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1,
  saved_at TEXT NOT NULL
) STRICT;

-- Each time that work was handed in, as it was: the student's receipt.
CREATE TABLE hand_in (
  id INTEGER PRIMARY KEY,
  task_student_id INTEGER NOT NULL REFERENCES task_student (id) ON DELETE CASCADE,
  attempt_number INTEGER NOT NULL,
  text TEXT NOT NULL,
  text_hash TEXT NOT NULL,
  at TEXT NOT NULL,
  taken_back_at TEXT
) STRICT;
CREATE INDEX hand_in_of_task_student ON hand_in (task_student_id);

-- A version of a mark that students see from visible_at on. The newest of a mark that is visible and
-- was not taken back is what they see.
CREATE TABLE hand_back (
  id INTEGER PRIMARY KEY,
  mark_id INTEGER NOT NULL REFERENCES mark (id) ON DELETE CASCADE,
  version INTEGER NOT NULL,
  total_shown INTEGER NOT NULL CHECK (total_shown IN (0, 1)),
  visible_at TEXT NOT NULL,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id),
  taken_back_at TEXT,
  taken_back_by INTEGER REFERENCES person (id),
  read_at TEXT,
  next_word TEXT
) STRICT;
CREATE INDEX hand_back_of_mark ON hand_back (mark_id);

-- A student asks for another attempt; granted NULL: not answered yet.
CREATE TABLE wish (
  id INTEGER PRIMARY KEY,
  attempt_id INTEGER NOT NULL UNIQUE REFERENCES attempt (id) ON DELETE CASCADE,
  words TEXT NOT NULL,
  made_at TEXT NOT NULL,
  granted INTEGER CHECK (granted IN (0, 1)),
  answer TEXT,
  answered_at TEXT,
  answered_by INTEGER REFERENCES person (id)
) STRICT;
