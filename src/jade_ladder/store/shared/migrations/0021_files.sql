-- Files lie beside the database, by the hash of their content. A row is made when the file is whole
-- and on the disk.
CREATE TABLE file (
  id INTEGER PRIMARY KEY,
  hash TEXT NOT NULL UNIQUE,
  size INTEGER NOT NULL,
  kind TEXT NOT NULL,
  media_type TEXT NOT NULL,
  kept_at TEXT NOT NULL
) STRICT;

-- What is shown of a document, worked out once by a version of the converter; with `problem` nothing is.
CREATE TABLE shown_document (
  file_id INTEGER PRIMARY KEY REFERENCES file (id) ON DELETE CASCADE,
  converter INTEGER NOT NULL,
  html TEXT NOT NULL,
  words INTEGER NOT NULL,
  left_out TEXT NOT NULL,
  problem TEXT NOT NULL
) STRICT;
CREATE TABLE document_picture (
  file_id INTEGER NOT NULL REFERENCES shown_document (file_id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  picture_id INTEGER NOT NULL REFERENCES file (id),
  PRIMARY KEY (file_id, number)
) STRICT;
CREATE INDEX document_picture_file ON document_picture (picture_id);

-- A file on its way in; the key is its sender's, so that an upload begun twice is one. Its number is
-- never given to another, since the part that it becomes remembers it.
CREATE TABLE upload (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  person_id INTEGER NOT NULL REFERENCES person (id),
  key TEXT NOT NULL,
  name TEXT NOT NULL,
  size INTEGER NOT NULL,
  begun_at TEXT NOT NULL,
  UNIQUE (person_id, key)
) STRICT;

-- A part is of an attempt, or of what a student has not handed in yet.
CREATE TABLE new_work_part (
  id INTEGER PRIMARY KEY,
  attempt_id INTEGER REFERENCES attempt (id) ON DELETE CASCADE,
  draft_of INTEGER REFERENCES task_student (id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('text', 'file', 'link')),
  text TEXT NOT NULL,
  file_name TEXT,
  file_id INTEGER REFERENCES file (id),
  sent_hash TEXT,
  upload_id INTEGER,
  -- Which file of an archive that arrived, from 1; 0: the upload itself.
  entry INTEGER NOT NULL DEFAULT 0,
  -- What was put in at once is undone as one.
  batch TEXT,
  entered_at TEXT NOT NULL,
  entered_by INTEGER NOT NULL REFERENCES person (id),
  UNIQUE (attempt_id, position),
  UNIQUE (draft_of, position),
  UNIQUE (upload_id, entry),
  CHECK ((attempt_id IS NULL) <> (draft_of IS NULL)),
  CHECK ((kind = 'file') = (file_id IS NOT NULL))
) STRICT;
INSERT INTO new_work_part
  (id, attempt_id, position, kind, text, file_name, entered_at, entered_by)
SELECT id, attempt_id, position, kind, text, file_name, entered_at, entered_by FROM work_part
ORDER BY id;
DROP TABLE work_part;
ALTER TABLE new_work_part RENAME TO work_part;
CREATE INDEX work_part_batch ON work_part (batch) WHERE batch IS NOT NULL;
CREATE INDEX work_part_file ON work_part (file_id) WHERE file_id IS NOT NULL;

-- What a receipt names besides its text.
CREATE TABLE hand_in_part (
  hand_in_id INTEGER NOT NULL REFERENCES hand_in (id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('file', 'link')),
  name TEXT NOT NULL,
  file_id INTEGER REFERENCES file (id),
  sent_hash TEXT NOT NULL,
  PRIMARY KEY (hand_in_id, position)
) STRICT;
CREATE INDEX hand_in_part_file ON hand_in_part (file_id) WHERE file_id IS NOT NULL;
