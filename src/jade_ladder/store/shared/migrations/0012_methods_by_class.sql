-- A change of an outcome's own method is one of a class: it is logged with its class from now on.
-- Where one class alone teaches the outcome, it is known which it was.
UPDATE log SET subject = 'outcome-method/' || (
    SELECT class_id FROM class_outcome WHERE outcome_id = log.subject_id)
WHERE subject = 'outcome-method'
  AND (SELECT count(*) FROM class_outcome WHERE outcome_id = log.subject_id) = 1;
