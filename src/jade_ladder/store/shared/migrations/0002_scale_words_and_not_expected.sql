ALTER TABLE scale_level ADD COLUMN description TEXT NOT NULL DEFAULT '';

-- An outcome lifted for one student, from a day until another; until NULL: still.
CREATE TABLE not_expected (
  id INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES person (id),
  outcome_id INTEGER NOT NULL REFERENCES outcome (id),
  reason TEXT NOT NULL,
  since TEXT NOT NULL,
  until TEXT,
  made_by INTEGER NOT NULL REFERENCES person (id)
) STRICT;
CREATE UNIQUE INDEX not_expected_now ON not_expected (student_id, outcome_id) WHERE until IS NULL;
CREATE INDEX not_expected_of_outcome ON not_expected (outcome_id);
