-- Remarks on passages of the work, from one version of a mark to before another, as choices stand.
-- `key` is the passage's own through all versions, made where it is written. `criterion_key` is the
-- same in every revision of the rubric; NULL: on the work as a whole. `place` says where it is, in
-- the selectors of the W3C Web Annotation model; of one that was deleted it is empty.
CREATE TABLE passage (
  id INTEGER PRIMARY KEY,
  mark_id INTEGER NOT NULL REFERENCES mark (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  part_id INTEGER NOT NULL REFERENCES work_part (id) ON DELETE CASCADE,
  criterion_key TEXT,
  text TEXT NOT NULL,
  place TEXT NOT NULL,
  since_version INTEGER NOT NULL,
  until_version INTEGER,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id)
) STRICT;
CREATE INDEX passage_of_mark ON passage (mark_id, key);
CREATE INDEX passage_of_part ON passage (part_id);

-- A part of work that was replaced after something was remarked in it stays, beside the attempt.
CREATE TABLE new_work_part (
  id INTEGER PRIMARY KEY,
  attempt_id INTEGER REFERENCES attempt (id) ON DELETE CASCADE,
  draft_of INTEGER REFERENCES task_student (id) ON DELETE CASCADE,
  replaced_of INTEGER REFERENCES attempt (id) ON DELETE CASCADE,
  replaced_at TEXT,
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
  CHECK ((attempt_id IS NOT NULL) + (draft_of IS NOT NULL) + (replaced_of IS NOT NULL) = 1),
  CHECK ((replaced_of IS NULL) = (replaced_at IS NULL)),
  CHECK ((kind = 'file') = (file_id IS NOT NULL))
) STRICT;
INSERT INTO new_work_part
  (id, attempt_id, draft_of, position, kind, text, file_name, file_id, sent_hash, upload_id, entry,
   batch, entered_at, entered_by)
SELECT id, attempt_id, draft_of, position, kind, text, file_name, file_id, sent_hash, upload_id,
       entry, batch, entered_at, entered_by FROM work_part ORDER BY id;
DROP TABLE work_part;
ALTER TABLE new_work_part RENAME TO work_part;
CREATE INDEX work_part_batch ON work_part (batch) WHERE batch IS NOT NULL;
CREATE INDEX work_part_file ON work_part (file_id) WHERE file_id IS NOT NULL;
CREATE INDEX work_part_replaced ON work_part (replaced_of) WHERE replaced_of IS NOT NULL;
