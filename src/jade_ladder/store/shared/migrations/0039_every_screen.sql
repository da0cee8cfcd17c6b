-- What an attempt moved, as its student saw it when it was handed back: mastery of an outcome without
-- it and with it, on the scale as it was then (its levels from the lowest: name, code, value, cut
-- score, description). A state and what goes with it as a JSON array: state, value, level, pieces.
CREATE TABLE hand_back_move (
  hand_back_id INTEGER NOT NULL REFERENCES hand_back (id) ON DELETE CASCADE,
  outcome_id INTEGER NOT NULL REFERENCES outcome (id) ON DELETE CASCADE,
  before TEXT NOT NULL,
  after TEXT NOT NULL,
  levels TEXT NOT NULL,
  mastery_level INTEGER NOT NULL,
  PRIMARY KEY (hand_back_id, outcome_id)
) STRICT, WITHOUT ROWID;
CREATE INDEX hand_back_move_of_outcome ON hand_back_move (outcome_id);

-- Files and links that a student removed from what is not handed in yet: put back for a day.
CREATE TABLE removed_part (
  id INTEGER PRIMARY KEY,
  draft_of INTEGER NOT NULL REFERENCES task_student (id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('file', 'link')),
  text TEXT NOT NULL,
  file_name TEXT,
  file_id INTEGER REFERENCES file (id),
  sent_hash TEXT,
  entered_at TEXT NOT NULL,
  entered_by INTEGER NOT NULL REFERENCES person (id),
  removed_at TEXT NOT NULL
) STRICT;
CREATE INDEX removed_part_of_draft ON removed_part (draft_of);
CREATE INDEX removed_part_file ON removed_part (file_id) WHERE file_id IS NOT NULL;

-- Wishes for another attempt that nobody has answered.
CREATE INDEX wish_open ON wish (attempt_id) WHERE granted IS NULL;

-- The log said which record a task's revision was, and not its number.
UPDATE log
SET before = json_set(before, '$.revision',
      (SELECT number FROM revision WHERE id = json_extract(before, '$.revision'))),
    after = json_set(after, '$.revision',
      (SELECT number FROM revision WHERE id = json_extract(after, '$.revision')))
WHERE subject = 'task-revision'
  AND EXISTS (SELECT 1 FROM revision WHERE id = json_extract(before, '$.revision'))
  AND EXISTS (SELECT 1 FROM revision WHERE id = json_extract(after, '$.revision'));
