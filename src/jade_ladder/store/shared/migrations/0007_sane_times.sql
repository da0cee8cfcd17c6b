-- A year typed with two digits was stored unpadded ("26-11-20T…"): such a time reads as none, and
-- text order is no longer time order. Two digits are taken for this century; what cannot be read at
-- all is left out, or, where a time must stand, is the time of the record beside it.
UPDATE task
SET due_at = CASE
  WHEN CAST(substr(due_at, 1, instr(due_at, '-') - 1) AS INTEGER) < 100
  THEN printf('20%02d', CAST(substr(due_at, 1, instr(due_at, '-') - 1) AS INTEGER))
       || substr(due_at, instr(due_at, '-'))
  END, version = version + 1
WHERE due_at IS NOT NULL AND CAST(substr(due_at, 1, instr(due_at, '-') - 1) AS INTEGER) < 1000;

UPDATE attempt
SET done_at = CASE
  WHEN CAST(substr(done_at, 1, instr(done_at, '-') - 1) AS INTEGER) < 100
  THEN printf('20%02d', CAST(substr(done_at, 1, instr(done_at, '-') - 1) AS INTEGER))
       || substr(done_at, instr(done_at, '-'))
  ELSE coalesce(
    (SELECT entered_at FROM work WHERE attempt_id = attempt.id),
    (SELECT coalesce(first_finished_at, changed_at) FROM mark WHERE attempt_id = attempt.id),
    (SELECT t.made_at FROM task_student s JOIN task t ON t.id = s.task_id
     WHERE s.id = attempt.task_student_id))
  END
WHERE CAST(substr(done_at, 1, instr(done_at, '-') - 1) AS INTEGER) < 1000;
