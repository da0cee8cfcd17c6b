-- Times are UTC, ISO 8601. Values, points and cut scores are whole hundredths; weights of a rubric
-- are whole hundredths of a per cent. Days are YYYY-MM-DD in the school's time zone.

CREATE TABLE school (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  name TEXT NOT NULL,
  time_zone TEXT NOT NULL
) STRICT;

CREATE TABLE person (
  id INTEGER PRIMARY KEY,
  given_name TEXT NOT NULL,
  family_name TEXT NOT NULL,
  identifier TEXT UNIQUE,
  email TEXT,
  password_hash TEXT,
  may_teach INTEGER NOT NULL DEFAULT 0 CHECK (may_teach IN (0, 1))
) STRICT;
CREATE UNIQUE INDEX person_email_of_teachers ON person (lower(email)) WHERE may_teach = 1;

CREATE TABLE session (
  token_hash TEXT PRIMARY KEY,
  person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
  made_at TEXT NOT NULL,
  expires_at TEXT NOT NULL
) STRICT;

CREATE TABLE scale (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  mastery INTEGER NOT NULL,
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE scale_level (
  id INTEGER PRIMARY KEY,
  scale_id INTEGER NOT NULL REFERENCES scale (id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  name TEXT NOT NULL,
  code TEXT NOT NULL,
  value INTEGER NOT NULL,
  cut INTEGER NOT NULL,
  UNIQUE (scale_id, position)
) STRICT;

CREATE TABLE school_class (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  first_day TEXT NOT NULL,
  last_day TEXT NOT NULL,
  scale_id INTEGER NOT NULL REFERENCES scale (id),
  method TEXT NOT NULL,
  newest INTEGER NOT NULL,
  last INTEGER NOT NULL,
  combining TEXT NOT NULL DEFAULT 'mean',
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE membership (
  id INTEGER PRIMARY KEY,
  class_id INTEGER NOT NULL REFERENCES school_class (id),
  person_id INTEGER NOT NULL REFERENCES person (id),
  role TEXT NOT NULL CHECK (role IN ('teacher', 'student')),
  since TEXT NOT NULL,
  until TEXT
) STRICT;
CREATE INDEX membership_of_class ON membership (class_id, role);
CREATE INDEX membership_of_person ON membership (person_id, role);

-- owner_id NULL: the school's.
CREATE TABLE strand (
  id INTEGER PRIMARY KEY,
  owner_id INTEGER REFERENCES person (id),
  parent_id INTEGER REFERENCES strand (id),
  title TEXT NOT NULL,
  position INTEGER NOT NULL
) STRICT;

CREATE TABLE outcome (
  id INTEGER PRIMARY KEY,
  guid TEXT NOT NULL UNIQUE,
  owner_id INTEGER REFERENCES person (id),
  strand_id INTEGER REFERENCES strand (id),
  scale_id INTEGER NOT NULL REFERENCES scale (id),
  code TEXT NOT NULL,
  title TEXT NOT NULL,
  description TEXT NOT NULL DEFAULT '',
  version INTEGER NOT NULL DEFAULT 1
) STRICT;

-- method NULL: the class's.
CREATE TABLE class_outcome (
  class_id INTEGER NOT NULL REFERENCES school_class (id),
  outcome_id INTEGER NOT NULL REFERENCES outcome (id),
  position INTEGER NOT NULL,
  method TEXT,
  newest INTEGER NOT NULL DEFAULT 60,
  last INTEGER NOT NULL DEFAULT 3,
  minimum INTEGER NOT NULL DEFAULT 1,
  active_from TEXT NOT NULL,
  active_until TEXT,
  PRIMARY KEY (class_id, outcome_id)
) STRICT;
CREATE INDEX class_outcome_of_outcome ON class_outcome (outcome_id);

CREATE TABLE rubric (
  id INTEGER PRIMARY KEY,
  owner_id INTEGER NOT NULL REFERENCES person (id),
  title TEXT NOT NULL,
  changed_at TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1
) STRICT;
CREATE INDEX rubric_of_owner ON rubric (owner_id);

CREATE TABLE revision (
  id INTEGER PRIMARY KEY,
  rubric_id INTEGER NOT NULL REFERENCES rubric (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  final_at TEXT,
  UNIQUE (rubric_id, number)
) STRICT;

-- key is the same for the same criterion and level in every revision.
CREATE TABLE criterion (
  id INTEGER PRIMARY KEY,
  revision_id INTEGER NOT NULL REFERENCES revision (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  position INTEGER NOT NULL,
  title TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('levels', 'yes-no')),
  bonus INTEGER NOT NULL CHECK (bonus IN (0, 1)),
  half_way INTEGER NOT NULL CHECK (half_way IN (0, 1)),
  weight INTEGER,
  UNIQUE (revision_id, key)
) STRICT;

CREATE TABLE criterion_level (
  id INTEGER PRIMARY KEY,
  criterion_id INTEGER NOT NULL REFERENCES criterion (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  position INTEGER NOT NULL,
  name TEXT NOT NULL,
  descriptor TEXT NOT NULL,
  points INTEGER NOT NULL,
  UNIQUE (criterion_id, key)
) STRICT;

CREATE TABLE alignment (
  id INTEGER PRIMARY KEY,
  criterion_id INTEGER NOT NULL REFERENCES criterion (id) ON DELETE CASCADE,
  outcome_id INTEGER NOT NULL REFERENCES outcome (id),
  weight INTEGER NOT NULL DEFAULT 1,
  basis TEXT NOT NULL,
  UNIQUE (criterion_id, outcome_id)
) STRICT;
CREATE INDEX alignment_of_outcome ON alignment (outcome_id);

-- value NULL: this level says nothing about the outcome. follows: the position of the scale level.
CREATE TABLE alignment_cell (
  alignment_id INTEGER NOT NULL REFERENCES alignment (id) ON DELETE CASCADE,
  level_id INTEGER NOT NULL REFERENCES criterion_level (id) ON DELETE CASCADE,
  value INTEGER,
  follows INTEGER,
  by_hand INTEGER NOT NULL CHECK (by_hand IN (0, 1)),
  PRIMARY KEY (alignment_id, level_id)
) STRICT;

-- points NULL: the sum of the rubric's highest points.
CREATE TABLE task (
  id INTEGER PRIMARY KEY,
  class_id INTEGER NOT NULL REFERENCES school_class (id),
  revision_id INTEGER NOT NULL REFERENCES revision (id),
  title TEXT NOT NULL,
  instructions TEXT NOT NULL DEFAULT '',
  kind TEXT NOT NULL CHECK (kind IN ('handed-in', 'observed')),
  due_at TEXT,
  points INTEGER,
  practice INTEGER NOT NULL DEFAULT 0 CHECK (practice IN (0, 1)),
  attempts_rule TEXT NOT NULL DEFAULT 'latest',
  made_at TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1
) STRICT;
CREATE INDEX task_of_class ON task (class_id);
CREATE INDEX task_of_revision ON task (revision_id);

CREATE TABLE task_student (
  id INTEGER PRIMARY KEY,
  task_id INTEGER NOT NULL REFERENCES task (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES person (id),
  excused INTEGER NOT NULL DEFAULT 0 CHECK (excused IN (0, 1)),
  UNIQUE (task_id, student_id)
) STRICT;
CREATE INDEX task_student_of_student ON task_student (student_id);

CREATE TABLE attempt (
  id INTEGER PRIMARY KEY,
  task_student_id INTEGER NOT NULL REFERENCES task_student (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  done_at TEXT NOT NULL,
  UNIQUE (task_student_id, number)
) STRICT;

CREATE TABLE work (
  attempt_id INTEGER PRIMARY KEY REFERENCES attempt (id) ON DELETE CASCADE,
  text TEXT NOT NULL,
  file_name TEXT,
  entered_at TEXT NOT NULL,
  entered_by INTEGER NOT NULL REFERENCES person (id)
) STRICT;

-- A mark is what stands in its newest version; what counts is finished_version.
CREATE TABLE mark (
  id INTEGER PRIMARY KEY,
  attempt_id INTEGER NOT NULL UNIQUE REFERENCES attempt (id) ON DELETE CASCADE,
  version INTEGER NOT NULL DEFAULT 0,
  changed_at TEXT NOT NULL,
  finished_version INTEGER,
  first_finished_at TEXT
) STRICT;

-- Appended, never changed but for until_version: a choice or remark stands from since_version to
-- before until_version, so that every version of a mark can be read again.
CREATE TABLE mark_choice (
  id INTEGER PRIMARY KEY,
  mark_id INTEGER NOT NULL REFERENCES mark (id) ON DELETE CASCADE,
  criterion_id INTEGER NOT NULL REFERENCES criterion (id),
  level_id INTEGER REFERENCES criterion_level (id),
  half_way INTEGER NOT NULL CHECK (half_way IN (0, 1)),
  not_assessed INTEGER NOT NULL CHECK (not_assessed IN (0, 1)),
  since_version INTEGER NOT NULL,
  until_version INTEGER,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id)
) STRICT;
CREATE INDEX mark_choice_of_mark ON mark_choice (mark_id);

CREATE TABLE mark_remark (
  id INTEGER PRIMARY KEY,
  mark_id INTEGER NOT NULL REFERENCES mark (id) ON DELETE CASCADE,
  criterion_id INTEGER REFERENCES criterion (id),
  text TEXT NOT NULL,
  since_version INTEGER NOT NULL,
  until_version INTEGER,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id)
) STRICT;
CREATE INDEX mark_remark_of_mark ON mark_remark (mark_id);

-- What changed: method, scale, cuts, alignment, membership. before and after are JSON.
CREATE TABLE log (
  id INTEGER PRIMARY KEY,
  at TEXT NOT NULL,
  person_id INTEGER REFERENCES person (id),
  subject TEXT NOT NULL,
  subject_id INTEGER NOT NULL,
  before TEXT,
  after TEXT
) STRICT;
CREATE INDEX log_of_subject ON log (subject, subject_id);
