-- A piece of evidence comes from a source of a kind: an attempt at a task, or an observation note.
-- That of notes is kept beside that of attempts. Keys of two kinds cannot refer to a table, so a
-- source that is deleted takes its evidence with it by a trigger.
CREATE TABLE new_evidence (
  student_id INTEGER NOT NULL REFERENCES person (id),
  outcome_id INTEGER NOT NULL REFERENCES outcome (id) ON DELETE CASCADE,
  done_at TEXT NOT NULL,
  finished_at TEXT NOT NULL,
  -- In the order of evidence, so that a class is read in one run: attempts before notes.
  source_kind TEXT NOT NULL CHECK (source_kind IN ('attempt', 'note')),
  source_id INTEGER NOT NULL,
  -- Of an attempt: the task, whose attempts rule it falls under.
  task_id INTEGER REFERENCES task (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  value INTEGER NOT NULL,
  PRIMARY KEY (student_id, outcome_id, done_at, finished_at, source_kind, source_id),
  CHECK ((source_kind = 'attempt') = (task_id IS NOT NULL))
) STRICT, WITHOUT ROWID;

INSERT INTO new_evidence
SELECT student_id, outcome_id, done_at, finished_at, 'attempt', attempt_id, task_id, number, value
FROM evidence;

-- The value of a note on the scale that its outcome has now: of its level, or half-way up from it;
-- on a scale with another number of levels, that of the level at the same place between the ends.
INSERT INTO new_evidence
WITH said AS (
  SELECT n.student_id, n.outcome_id, v.seen_at, n.written_at, n.id, v.level, v.levels, v.half_way,
         o.scale_id, (SELECT count(*) FROM scale_level WHERE scale_id = o.scale_id) AS steps
  FROM note n JOIN note_version v ON v.note_id = n.id AND v.version = n.version
  JOIN outcome o ON o.id = n.outcome_id
  WHERE v.withdrawn = 0 AND v.aside IS NULL),
placed AS (
  SELECT said.*,
         CASE WHEN steps = levels THEN level
              ELSE (2 * (2 * level + half_way) * (steps - 1) + 2 * (levels - 1))
                   / (4 * (levels - 1)) END AS place,
         steps = levels AND half_way = 1 AS up
  FROM said)
SELECT student_id, outcome_id, seen_at, written_at, 'note', id, NULL, 1,
       CASE up WHEN 0 THEN here.value ELSE (here.value + above.value + 1) >> 1 END
FROM placed
JOIN (SELECT scale_id, value, row_number() OVER (PARTITION BY scale_id ORDER BY position) - 1 AS at
      FROM scale_level) here ON here.scale_id = placed.scale_id AND here.at = place
LEFT JOIN (
  SELECT scale_id, value, row_number() OVER (PARTITION BY scale_id ORDER BY position) - 1 AS at
  FROM scale_level) above ON above.scale_id = placed.scale_id AND above.at = place + 1;

DROP TRIGGER stamp_new_note;
DROP TRIGGER stamp_changed_note;
DROP TRIGGER stamp_gone_note;
DROP TRIGGER stamp_new_note_version;
DROP TRIGGER stamp_changed_note_version;
DROP TABLE evidence;
ALTER TABLE new_evidence RENAME TO evidence;
CREATE UNIQUE INDEX evidence_of_source ON evidence (source_kind, source_id, outcome_id);
CREATE INDEX evidence_of_task ON evidence (task_id) WHERE task_id IS NOT NULL;
CREATE INDEX evidence_of_outcome ON evidence (outcome_id);
CREATE INDEX note_of_outcome ON note (outcome_id);

CREATE TRIGGER stamp_new_evidence AFTER INSERT ON evidence BEGIN
  INSERT INTO evidence_stamp VALUES (NEW.student_id, random())
  ON CONFLICT (student_id) DO UPDATE SET stamp = excluded.stamp;
END;
CREATE TRIGGER stamp_changed_evidence AFTER UPDATE ON evidence BEGIN
  UPDATE evidence_stamp SET stamp = random() WHERE student_id IN (OLD.student_id, NEW.student_id);
END;
CREATE TRIGGER stamp_gone_evidence AFTER DELETE ON evidence BEGIN
  UPDATE evidence_stamp SET stamp = random() WHERE student_id = OLD.student_id;
END;
CREATE TRIGGER evidence_goes_with_attempt AFTER DELETE ON attempt BEGIN
  DELETE FROM evidence WHERE source_kind = 'attempt' AND source_id = OLD.id;
END;
CREATE TRIGGER evidence_goes_with_note AFTER DELETE ON note BEGIN
  DELETE FROM evidence WHERE source_kind = 'note' AND source_id = OLD.id;
END;

-- The mark that counts: the teacher's.
CREATE VIEW teachers_mark AS SELECT * FROM mark WHERE role = 'teacher';

-- Of what the evidence has to be worked out anew before anything reads it again: of an attempt, of
-- a note, of all of a task or of a class, or on an outcome. Empty between operations.
CREATE TABLE stale_evidence (
  kind TEXT NOT NULL CHECK (kind IN ('attempt', 'note', 'task', 'class', 'outcome')),
  number INTEGER NOT NULL
) STRICT;

-- What of the marks counts. A mark that was never finished says nothing yet, nor does what is
-- chosen after the version that is finished.
CREATE TRIGGER stale_by_new_mark AFTER INSERT ON mark
WHEN NEW.role = 'teacher' AND NEW.finished_version IS NOT NULL BEGIN
  INSERT INTO stale_evidence VALUES ('attempt', NEW.attempt_id);
END;
CREATE TRIGGER stale_by_changed_mark
AFTER UPDATE OF role, attempt_id, finished_version, first_finished_at ON mark
WHEN 'teacher' IN (OLD.role, NEW.role)
  AND (OLD.role, OLD.attempt_id, OLD.finished_version, OLD.first_finished_at)
      IS NOT (NEW.role, NEW.attempt_id, NEW.finished_version, NEW.first_finished_at) BEGIN
  INSERT INTO stale_evidence VALUES ('attempt', OLD.attempt_id), ('attempt', NEW.attempt_id);
END;
CREATE TRIGGER stale_by_gone_mark AFTER DELETE ON mark
WHEN OLD.role = 'teacher' AND OLD.finished_version IS NOT NULL BEGIN
  INSERT INTO stale_evidence VALUES ('attempt', OLD.attempt_id);
END;
CREATE TRIGGER stale_by_new_choice AFTER INSERT ON mark_choice
WHEN EXISTS (SELECT 1 FROM teachers_mark
             WHERE id = NEW.mark_id AND NEW.since_version <= finished_version
               AND (NEW.until_version IS NULL OR finished_version < NEW.until_version)) BEGIN
  INSERT INTO stale_evidence
  SELECT 'attempt', attempt_id FROM mark WHERE id = NEW.mark_id;
END;
CREATE TRIGGER stale_by_changed_choice AFTER UPDATE ON mark_choice
WHEN EXISTS (SELECT 1 FROM teachers_mark
             WHERE id = OLD.mark_id AND OLD.since_version <= finished_version
               AND (OLD.until_version IS NULL OR finished_version < OLD.until_version))
  <> EXISTS (SELECT 1 FROM teachers_mark
             WHERE id = NEW.mark_id AND NEW.since_version <= finished_version
               AND (NEW.until_version IS NULL OR finished_version < NEW.until_version))
  OR (OLD.mark_id, OLD.criterion_id, OLD.level_id, OLD.half_way, OLD.carried_from)
     IS NOT (NEW.mark_id, NEW.criterion_id, NEW.level_id, NEW.half_way, NEW.carried_from) BEGIN
  INSERT INTO stale_evidence
  SELECT 'attempt', attempt_id FROM mark WHERE id IN (OLD.mark_id, NEW.mark_id);
END;
CREATE TRIGGER stale_by_gone_choice AFTER DELETE ON mark_choice
WHEN EXISTS (SELECT 1 FROM teachers_mark
             WHERE id = OLD.mark_id AND OLD.since_version <= finished_version
               AND (OLD.until_version IS NULL OR finished_version < OLD.until_version)) BEGIN
  INSERT INTO stale_evidence
  SELECT 'attempt', attempt_id FROM mark WHERE id = OLD.mark_id;
END;

-- Whose attempt it is, when it was done, and what keeps it from counting.
CREATE TRIGGER stale_by_changed_attempt
AFTER UPDATE OF task_student_id, number, done_at, corrected_done_at ON attempt
WHEN (OLD.task_student_id, OLD.number, OLD.done_at, OLD.corrected_done_at)
     IS NOT (NEW.task_student_id, NEW.number, NEW.done_at, NEW.corrected_done_at) BEGIN
  INSERT INTO stale_evidence
  SELECT 'attempt', NEW.id FROM teachers_mark
  WHERE attempt_id = NEW.id AND finished_version IS NOT NULL;
END;
CREATE TRIGGER stale_by_changed_task_student
AFTER UPDATE OF task_id, student_id, excused ON task_student
WHEN (OLD.task_id, OLD.student_id, OLD.excused) IS NOT (NEW.task_id, NEW.student_id, NEW.excused)
BEGIN
  INSERT INTO stale_evidence SELECT 'attempt', id FROM attempt WHERE task_student_id = NEW.id;
END;
CREATE TRIGGER stale_by_changed_task AFTER UPDATE OF class_id, practice ON task
WHEN (OLD.class_id, OLD.practice) IS NOT (NEW.class_id, NEW.practice) BEGIN
  INSERT INTO stale_evidence VALUES ('task', NEW.id);
END;
CREATE TRIGGER stale_by_changed_class AFTER UPDATE OF combining ON school_class
WHEN OLD.combining IS NOT NEW.combining BEGIN
  INSERT INTO stale_evidence VALUES ('class', NEW.id);
END;
CREATE TRIGGER stale_by_new_setting_aside AFTER INSERT ON evidence_set_aside BEGIN
  INSERT INTO stale_evidence VALUES ('attempt', NEW.attempt_id);
END;
CREATE TRIGGER stale_by_changed_setting_aside AFTER UPDATE ON evidence_set_aside BEGIN
  INSERT INTO stale_evidence VALUES ('attempt', OLD.attempt_id), ('attempt', NEW.attempt_id);
END;
CREATE TRIGGER stale_by_gone_setting_aside AFTER DELETE ON evidence_set_aside BEGIN
  INSERT INTO stale_evidence VALUES ('attempt', OLD.attempt_id);
END;

-- What a choice is worth. Nothing is marked by a revision that is not final.
CREATE TRIGGER stale_by_new_alignment AFTER INSERT ON alignment BEGIN
  INSERT INTO stale_evidence
  SELECT 'outcome', NEW.outcome_id FROM criterion k JOIN revision r ON r.id = k.revision_id
  WHERE k.id = NEW.criterion_id AND r.final_at IS NOT NULL;
END;
CREATE TRIGGER stale_by_changed_alignment
AFTER UPDATE OF criterion_id, outcome_id, weight ON alignment BEGIN
  INSERT INTO stale_evidence
  SELECT 'outcome', o.number
  FROM (SELECT OLD.outcome_id AS number UNION SELECT NEW.outcome_id) o
  WHERE EXISTS (SELECT 1 FROM criterion k JOIN revision r ON r.id = k.revision_id
                WHERE k.id IN (OLD.criterion_id, NEW.criterion_id) AND r.final_at IS NOT NULL);
END;
CREATE TRIGGER stale_by_gone_alignment AFTER DELETE ON alignment BEGIN
  INSERT INTO stale_evidence
  SELECT 'outcome', OLD.outcome_id FROM criterion k JOIN revision r ON r.id = k.revision_id
  WHERE k.id = OLD.criterion_id AND r.final_at IS NOT NULL;
END;
CREATE TRIGGER stale_by_new_cell AFTER INSERT ON alignment_cell BEGIN
  INSERT INTO stale_evidence
  SELECT 'outcome', l.outcome_id
  FROM alignment l JOIN criterion k ON k.id = l.criterion_id JOIN revision r ON r.id = k.revision_id
  WHERE l.id = NEW.alignment_id AND r.final_at IS NOT NULL;
END;
CREATE TRIGGER stale_by_changed_cell AFTER UPDATE OF alignment_id, level_id, value ON alignment_cell
WHEN (OLD.alignment_id, OLD.level_id, OLD.value) IS NOT (NEW.alignment_id, NEW.level_id, NEW.value)
BEGIN
  INSERT INTO stale_evidence
  SELECT 'outcome', l.outcome_id
  FROM alignment l JOIN criterion k ON k.id = l.criterion_id JOIN revision r ON r.id = k.revision_id
  WHERE l.id IN (OLD.alignment_id, NEW.alignment_id) AND r.final_at IS NOT NULL;
END;
CREATE TRIGGER stale_by_gone_cell AFTER DELETE ON alignment_cell BEGIN
  INSERT INTO stale_evidence
  SELECT 'outcome', l.outcome_id
  FROM alignment l JOIN criterion k ON k.id = l.criterion_id JOIN revision r ON r.id = k.revision_id
  WHERE l.id = OLD.alignment_id AND r.final_at IS NOT NULL;
END;
CREATE TRIGGER stale_by_moved_level AFTER UPDATE OF criterion_id, position ON criterion_level
WHEN (OLD.criterion_id, OLD.position) IS NOT (NEW.criterion_id, NEW.position) BEGIN
  INSERT INTO stale_evidence
  SELECT 'outcome', l.outcome_id
  FROM alignment l JOIN criterion k ON k.id = l.criterion_id JOIN revision r ON r.id = k.revision_id
  WHERE k.id IN (OLD.criterion_id, NEW.criterion_id) AND r.final_at IS NOT NULL;
END;

-- Notes, and the scales that give them their values.
CREATE TRIGGER stale_by_new_note AFTER INSERT ON note BEGIN
  INSERT INTO stale_evidence VALUES ('note', NEW.id);
END;
CREATE TRIGGER stale_by_changed_note
AFTER UPDATE OF student_id, outcome_id, version, written_at ON note BEGIN
  INSERT INTO stale_evidence VALUES ('note', OLD.id), ('note', NEW.id);
END;
CREATE TRIGGER stale_by_new_note_version AFTER INSERT ON note_version BEGIN
  INSERT INTO stale_evidence VALUES ('note', NEW.note_id);
END;
CREATE TRIGGER stale_by_changed_note_version AFTER UPDATE ON note_version BEGIN
  INSERT INTO stale_evidence VALUES ('note', OLD.note_id), ('note', NEW.note_id);
END;
CREATE TRIGGER stale_by_gone_note_version AFTER DELETE ON note_version BEGIN
  INSERT INTO stale_evidence VALUES ('note', OLD.note_id);
END;
CREATE TRIGGER stale_by_new_scale_level AFTER INSERT ON scale_level BEGIN
  INSERT INTO stale_evidence
  SELECT 'note', n.id FROM outcome o JOIN note n ON n.outcome_id = o.id
  WHERE o.scale_id = NEW.scale_id;
END;
CREATE TRIGGER stale_by_changed_scale_level
AFTER UPDATE OF scale_id, position, value ON scale_level
WHEN (OLD.scale_id, OLD.position, OLD.value) IS NOT (NEW.scale_id, NEW.position, NEW.value) BEGIN
  INSERT INTO stale_evidence
  SELECT 'note', n.id FROM outcome o JOIN note n ON n.outcome_id = o.id
  WHERE o.scale_id IN (OLD.scale_id, NEW.scale_id);
END;
CREATE TRIGGER stale_by_gone_scale_level AFTER DELETE ON scale_level BEGIN
  INSERT INTO stale_evidence
  SELECT 'note', n.id FROM outcome o JOIN note n ON n.outcome_id = o.id
  WHERE o.scale_id = OLD.scale_id;
END;
CREATE TRIGGER stale_by_other_scale AFTER UPDATE OF scale_id ON outcome
WHEN OLD.scale_id IS NOT NEW.scale_id BEGIN
  INSERT INTO stale_evidence SELECT 'note', id FROM note WHERE outcome_id = NEW.id;
END;
