-- A mark is of one attempt by one marker in a role; the teacher's is the one that counts, and an
-- attempt has one of those, whichever of its teachers began it.
CREATE TABLE new_mark (
  id INTEGER PRIMARY KEY,
  attempt_id INTEGER NOT NULL REFERENCES attempt (id) ON DELETE CASCADE,
  role TEXT NOT NULL CHECK (role IN ('teacher', 'self', 'peer', 'second-marker')),
  marker_id INTEGER NOT NULL REFERENCES person (id),
  version INTEGER NOT NULL DEFAULT 0,
  changed_at TEXT NOT NULL,
  finished_version INTEGER,
  first_finished_at TEXT,
  UNIQUE (attempt_id, role, marker_id)
) STRICT;

INSERT INTO new_mark
SELECT m.id, m.attempt_id, 'teacher',
       coalesce(
         (SELECT made_by FROM mark_choice WHERE mark_id = m.id ORDER BY id LIMIT 1),
         (SELECT made_by FROM mark_remark WHERE mark_id = m.id ORDER BY id LIMIT 1),
         (SELECT l.person_id FROM attempt a JOIN task_student s ON s.id = a.task_student_id
          JOIN task t ON t.id = s.task_id
          JOIN membership l ON l.class_id = t.class_id AND l.role = 'teacher'
          WHERE a.id = m.attempt_id ORDER BY l.id LIMIT 1),
         (SELECT min(id) FROM person)),
       m.version, m.changed_at, m.finished_version, m.first_finished_at
FROM mark m;

DROP TABLE mark;
ALTER TABLE new_mark RENAME TO mark;
CREATE UNIQUE INDEX mark_that_counts ON mark (attempt_id) WHERE role = 'teacher';

-- What waits for the teacher is found without a look at what is done: marks that are not finished
-- as they stand, and attempts whose mark is not begun.
CREATE INDEX mark_open ON mark (attempt_id)
  WHERE role = 'teacher' AND (finished_version IS NULL OR finished_version <> version);
ALTER TABLE attempt ADD COLUMN mark_begun INTEGER NOT NULL DEFAULT 0 CHECK (mark_begun IN (0, 1));
UPDATE attempt SET mark_begun = 1 WHERE id IN (SELECT attempt_id FROM mark);
CREATE INDEX attempt_not_begun ON attempt (task_student_id) WHERE mark_begun = 0;

-- Work is parts in order.
CREATE TABLE work_part (
  id INTEGER PRIMARY KEY,
  attempt_id INTEGER NOT NULL REFERENCES attempt (id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('text', 'file', 'link')),
  text TEXT NOT NULL,
  file_name TEXT,
  entered_at TEXT NOT NULL,
  entered_by INTEGER NOT NULL REFERENCES person (id),
  UNIQUE (attempt_id, position)
) STRICT;

INSERT INTO work_part (attempt_id, position, kind, text, file_name, entered_at, entered_by)
SELECT attempt_id, 1, 'text', text, file_name, entered_at, entered_by FROM work
ORDER BY attempt_id;
DROP TABLE work;

-- The evidence that counts, of finished marks, worked out in the same transaction as what it comes
-- from. In the order of evidence, so that a class is read in one run.
CREATE TABLE evidence (
  student_id INTEGER NOT NULL REFERENCES person (id),
  outcome_id INTEGER NOT NULL REFERENCES outcome (id) ON DELETE CASCADE,
  done_at TEXT NOT NULL,
  finished_at TEXT NOT NULL,
  attempt_id INTEGER NOT NULL REFERENCES attempt (id) ON DELETE CASCADE,
  task_id INTEGER NOT NULL REFERENCES task (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  value INTEGER NOT NULL,
  PRIMARY KEY (student_id, outcome_id, done_at, finished_at, attempt_id)
) STRICT, WITHOUT ROWID;
CREATE UNIQUE INDEX evidence_of_attempt ON evidence (attempt_id, outcome_id);
CREATE INDEX evidence_of_task ON evidence (task_id);
CREATE INDEX evidence_of_outcome ON evidence (outcome_id);

INSERT INTO evidence
  (student_id, outcome_id, done_at, finished_at, attempt_id, task_id, number, value)
SELECT * FROM (
  SELECT ts.student_id, l.outcome_id, coalesce(a.corrected_done_at, a.done_at),
         m.first_finished_at, a.id, ts.task_id, a.number,
         combined(k.combining, l.weight, c.half_way, here.value, above.value) AS value
  FROM mark m
  JOIN attempt a ON a.id = m.attempt_id
  JOIN task_student ts ON ts.id = a.task_student_id
  JOIN task t ON t.id = ts.task_id
  JOIN school_class k ON k.id = t.class_id
  JOIN mark_choice c ON c.mark_id = m.id
  JOIN alignment l ON l.criterion_id = c.criterion_id
  JOIN alignment_cell here ON here.alignment_id = l.id AND here.level_id = c.level_id
  LEFT JOIN criterion_level next ON c.half_way = 1 AND next.criterion_id = c.criterion_id
    AND next.position = (SELECT position + 1 FROM criterion_level WHERE id = c.level_id)
  LEFT JOIN alignment_cell above ON above.alignment_id = l.id AND above.level_id = next.id
  WHERE m.role = 'teacher' AND ts.excused = 0 AND t.practice = 0
    AND c.since_version <= m.finished_version
    AND (c.until_version IS NULL OR c.until_version > m.finished_version)
  GROUP BY a.id, l.outcome_id)
WHERE value IS NOT NULL;
