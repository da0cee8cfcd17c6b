-- How an attempt is dated: when it was handed in; by the due time, since it is on paper; by the tap,
-- since it was observed; or not decided, before the first choice on work without a time.
ALTER TABLE attempt ADD COLUMN dating TEXT NOT NULL DEFAULT 'handed-in'
  CHECK (dating IN ('handed-in', 'on-paper', 'observed', 'undecided'));
-- The time that the teacher says it was done, over done_at; who said so, and when.
ALTER TABLE attempt ADD COLUMN corrected_done_at TEXT;
ALTER TABLE attempt ADD COLUMN corrected_by INTEGER REFERENCES person (id);
ALTER TABLE attempt ADD COLUMN corrected_at TEXT;

-- Attempts without work were dated by their first choice, and keep that time until it is corrected.
UPDATE attempt SET dating = CASE (
    SELECT t.kind FROM task_student s JOIN task t ON t.id = s.task_id
    WHERE s.id = attempt.task_student_id)
  WHEN 'observed' THEN 'observed' ELSE 'on-paper' END
WHERE id NOT IN (SELECT attempt_id FROM work);
