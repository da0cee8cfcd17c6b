-- A level that a teacher set for a student and outcome, with why; it counts from the start of a day
-- to the start of another. `level` counts from 0, of so many `levels` as the scale had. `seen` is the
-- counted evidence that the teacher judged by, in order: [kind of source, source, value] as JSON.
CREATE TABLE judgement (
  id INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES person (id),
  outcome_id INTEGER NOT NULL REFERENCES outcome (id),
  level INTEGER NOT NULL CHECK (level >= 0),
  levels INTEGER NOT NULL CHECK (levels > level),
  reason TEXT NOT NULL,
  since TEXT NOT NULL,
  until TEXT CHECK (until >= since),
  seen TEXT NOT NULL,
  seen_at TEXT NOT NULL,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id),
  lifted_at TEXT,
  lifted_by INTEGER REFERENCES person (id),
  CHECK ((until IS NULL) = (lifted_at IS NULL))
) STRICT;
CREATE INDEX judgement_of_student ON judgement (student_id, outcome_id);
CREATE UNIQUE INDEX judgement_that_holds ON judgement (student_id, outcome_id) WHERE until IS NULL;
CREATE INDEX judgement_of_outcome ON judgement (outcome_id);

-- By which method a class (outcome_id NULL) or an outcome in it worked mastery out until a day, not
-- included; what holds now stands in school_class and class_outcome. method NULL: the class's.
CREATE TABLE method_before (
  id INTEGER PRIMARY KEY,
  class_id INTEGER NOT NULL REFERENCES school_class (id) ON DELETE CASCADE,
  outcome_id INTEGER REFERENCES outcome (id) ON DELETE CASCADE,
  until TEXT NOT NULL,
  method TEXT,
  newest INTEGER NOT NULL,
  last INTEGER NOT NULL
) STRICT;
CREATE UNIQUE INDEX method_before_once ON method_before (class_id, ifnull(outcome_id, 0), until);
CREATE INDEX method_before_of_outcome ON method_before (outcome_id);

-- Until now earlier methods were read from the log: what stood before the first change on a day is
-- what held until that day.
INSERT OR IGNORE INTO method_before (class_id, outcome_id, until, method, newest, last)
SELECT subject_id, NULL, school_day(at, (SELECT time_zone FROM school)),
       before ->> 0, before ->> 1, before ->> 2
FROM log WHERE subject = 'class-method' AND subject_id IN (SELECT id FROM school_class)
ORDER BY at, id;
INSERT OR IGNORE INTO method_before (class_id, outcome_id, until, method, newest, last)
SELECT CAST(substr(subject, 16) AS INTEGER), subject_id,
       school_day(at, (SELECT time_zone FROM school)),
       before ->> 0, ifnull(before ->> 1, 60), ifnull(before ->> 2, 3)
FROM log WHERE subject LIKE 'outcome-method/%'
  AND CAST(substr(subject, 16) AS INTEGER) IN (SELECT id FROM school_class)
  AND subject_id IN (SELECT id FROM outcome)
ORDER BY at, id;
