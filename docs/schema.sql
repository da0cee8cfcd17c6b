-- The database as it is once all migrations are done: made by `make schema`, never changed by hand.
-- Each table stands with its indexes and triggers; why it is so is told in its migration
-- (src/jade_ladder/store/shared/migrations).

CREATE TABLE absence (
  task_student_id INTEGER NOT NULL REFERENCES task_student (id) ON DELETE CASCADE,
  day TEXT NOT NULL,
  said_at TEXT NOT NULL,
  said_by INTEGER NOT NULL REFERENCES person (id),
  PRIMARY KEY (task_student_id, day)
) STRICT, WITHOUT ROWID;

CREATE TABLE alignment (
  id INTEGER PRIMARY KEY,
  criterion_id INTEGER NOT NULL REFERENCES criterion (id) ON DELETE CASCADE,
  outcome_id INTEGER NOT NULL REFERENCES outcome (id),
  weight INTEGER NOT NULL DEFAULT 1,
  basis TEXT NOT NULL,
  UNIQUE (criterion_id, outcome_id)
) STRICT;

CREATE INDEX alignment_of_outcome ON alignment (outcome_id);

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

CREATE TRIGGER stale_by_new_alignment AFTER INSERT ON alignment BEGIN
  INSERT INTO stale_evidence
  SELECT 'outcome', NEW.outcome_id FROM criterion k JOIN revision r ON r.id = k.revision_id
  WHERE k.id = NEW.criterion_id AND r.final_at IS NOT NULL;
END;

CREATE TABLE alignment_cell (
  alignment_id INTEGER NOT NULL REFERENCES alignment (id) ON DELETE CASCADE,
  level_id INTEGER NOT NULL REFERENCES criterion_level (id) ON DELETE CASCADE,
  value INTEGER,
  follows INTEGER,
  by_hand INTEGER NOT NULL CHECK (by_hand IN (0, 1)),
  PRIMARY KEY (alignment_id, level_id)
) STRICT;

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

CREATE TRIGGER stale_by_new_cell AFTER INSERT ON alignment_cell BEGIN
  INSERT INTO stale_evidence
  SELECT 'outcome', l.outcome_id
  FROM alignment l JOIN criterion k ON k.id = l.criterion_id JOIN revision r ON r.id = k.revision_id
  WHERE l.id = NEW.alignment_id AND r.final_at IS NOT NULL;
END;

CREATE TABLE assigned_marker (
  attempt_id INTEGER NOT NULL REFERENCES attempt (id) ON DELETE CASCADE,
  person_id INTEGER NOT NULL REFERENCES person (id),
  role TEXT NOT NULL CHECK (role IN ('peer', 'second-marker')),
  PRIMARY KEY (attempt_id, person_id, role)
) STRICT, WITHOUT ROWID;

CREATE INDEX assigned_marker_of_person ON assigned_marker (person_id);

CREATE TABLE attempt (
  id INTEGER PRIMARY KEY,
  task_student_id INTEGER NOT NULL REFERENCES task_student (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  done_at TEXT NOT NULL, dating TEXT NOT NULL DEFAULT 'handed-in'
  CHECK (dating IN ('handed-in', 'on-paper', 'observed', 'undecided')), corrected_done_at TEXT, corrected_by INTEGER REFERENCES person (id), corrected_at TEXT, mark_begun INTEGER NOT NULL DEFAULT 0 CHECK (mark_begun IN (0, 1)),
  UNIQUE (task_student_id, number)
) STRICT;

CREATE INDEX attempt_not_begun ON attempt (task_student_id) WHERE mark_begun = 0;

CREATE TRIGGER evidence_goes_with_attempt AFTER DELETE ON attempt BEGIN
  DELETE FROM evidence WHERE source_kind = 'attempt' AND source_id = OLD.id;
END;

CREATE TRIGGER stale_by_changed_attempt
AFTER UPDATE OF task_student_id, number, done_at, corrected_done_at ON attempt
WHEN (OLD.task_student_id, OLD.number, OLD.done_at, OLD.corrected_done_at)
     IS NOT (NEW.task_student_id, NEW.number, NEW.done_at, NEW.corrected_done_at) BEGIN
  INSERT INTO stale_evidence
  SELECT 'attempt', NEW.id FROM teachers_mark
  WHERE attempt_id = NEW.id AND finished_version IS NOT NULL;
END;

CREATE TABLE bank_remark (
  id INTEGER PRIMARY KEY,
  teacher_id INTEGER NOT NULL REFERENCES person (id),
  text TEXT NOT NULL,
  words TEXT NOT NULL,
  uses INTEGER NOT NULL DEFAULT 0,
  used_at TEXT NOT NULL,
  pinned INTEGER NOT NULL DEFAULT 0 CHECK (pinned IN (0, 1)),
  kept INTEGER NOT NULL DEFAULT 0 CHECK (kept IN (0, 1)),
  deleted INTEGER NOT NULL DEFAULT 0 CHECK (deleted IN (0, 1)),
  UNIQUE (teacher_id, text)
) STRICT;

CREATE INDEX bank_remark_offered
  ON bank_remark (teacher_id, deleted, pinned DESC, uses DESC, used_at DESC);

CREATE TABLE bank_use (
  mark_id INTEGER NOT NULL REFERENCES mark (id) ON DELETE CASCADE,
  place TEXT NOT NULL,
  criterion_key TEXT NOT NULL,
  level_key TEXT NOT NULL,
  remark_id INTEGER NOT NULL REFERENCES bank_remark (id) ON DELETE CASCADE,
  teacher_id INTEGER NOT NULL REFERENCES person (id),
  used_at TEXT NOT NULL,
  PRIMARY KEY (mark_id, place)
) STRICT, WITHOUT ROWID;

CREATE INDEX bank_use_of_criterion
  ON bank_use (teacher_id, criterion_key, level_key, remark_id, used_at);

CREATE INDEX bank_use_of_remark ON bank_use (remark_id, used_at);

CREATE TRIGGER bank_use_added AFTER INSERT ON bank_use BEGIN
  UPDATE bank_remark SET uses = uses + 1 WHERE id = NEW.remark_id;
END;

CREATE TRIGGER bank_use_gone AFTER DELETE ON bank_use BEGIN
  UPDATE bank_remark SET uses = uses - 1 WHERE id = OLD.remark_id;
  DELETE FROM bank_remark WHERE id = OLD.remark_id AND uses = 0 AND kept = 0 AND deleted = 0;
END;

CREATE TRIGGER bank_use_moved AFTER UPDATE OF remark_id ON bank_use
WHEN OLD.remark_id <> NEW.remark_id BEGIN
  UPDATE bank_remark SET uses = uses + 1 WHERE id = NEW.remark_id;
  UPDATE bank_remark SET uses = uses - 1 WHERE id = OLD.remark_id;
  DELETE FROM bank_remark WHERE id = OLD.remark_id AND uses = 0 AND kept = 0 AND deleted = 0;
END;

CREATE TABLE carried_choice (
  attempt_id INTEGER NOT NULL REFERENCES attempt (id) ON DELETE CASCADE,
  criterion_key TEXT NOT NULL,
  level_key TEXT NOT NULL,
  half_way INTEGER NOT NULL CHECK (half_way IN (0, 1)),
  from_number INTEGER NOT NULL CHECK (from_number > 0),
  PRIMARY KEY (attempt_id, criterion_key)
) STRICT;

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

CREATE TABLE criterion (
  id INTEGER PRIMARY KEY,
  revision_id INTEGER NOT NULL REFERENCES revision (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  position INTEGER NOT NULL,
  title TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('levels', 'yes-no')),
  bonus INTEGER NOT NULL CHECK (bonus IN (0, 1)),
  half_way INTEGER NOT NULL CHECK (half_way IN (0, 1)),
  weight INTEGER, remarks INTEGER NOT NULL DEFAULT 1 CHECK (remarks IN (0, 1)), any_order INTEGER NOT NULL DEFAULT 0 CHECK (any_order IN (0, 1)),
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

CREATE TRIGGER stale_by_moved_level AFTER UPDATE OF criterion_id, position ON criterion_level
WHEN (OLD.criterion_id, OLD.position) IS NOT (NEW.criterion_id, NEW.position) BEGIN
  INSERT INTO stale_evidence
  SELECT 'outcome', l.outcome_id
  FROM alignment l JOIN criterion k ON k.id = l.criterion_id JOIN revision r ON r.id = k.revision_id
  WHERE k.id IN (OLD.criterion_id, NEW.criterion_id) AND r.final_at IS NOT NULL;
END;

CREATE TABLE document_picture (
  file_id INTEGER NOT NULL REFERENCES shown_document (file_id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  picture_id INTEGER NOT NULL REFERENCES file (id),
  PRIMARY KEY (file_id, number)
) STRICT;

CREATE INDEX document_picture_file ON document_picture (picture_id);

CREATE TABLE draft_work (
  task_student_id INTEGER PRIMARY KEY REFERENCES task_student (id) ON DELETE CASCADE,
  text TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1,
  saved_at TEXT NOT NULL
) STRICT;

CREATE TABLE "evidence" (
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

CREATE INDEX evidence_of_outcome ON evidence (outcome_id);

CREATE UNIQUE INDEX evidence_of_source ON evidence (source_kind, source_id, outcome_id);

CREATE INDEX evidence_of_task ON evidence (task_id) WHERE task_id IS NOT NULL;

CREATE TRIGGER stamp_changed_evidence AFTER UPDATE ON evidence BEGIN
  UPDATE evidence_stamp SET stamp = random() WHERE student_id IN (OLD.student_id, NEW.student_id);
END;

CREATE TRIGGER stamp_gone_evidence AFTER DELETE ON evidence BEGIN
  UPDATE evidence_stamp SET stamp = random() WHERE student_id = OLD.student_id;
END;

CREATE TRIGGER stamp_new_evidence AFTER INSERT ON evidence BEGIN
  INSERT INTO evidence_stamp VALUES (NEW.student_id, random())
  ON CONFLICT (student_id) DO UPDATE SET stamp = excluded.stamp;
END;

CREATE TABLE evidence_set_aside (
  id INTEGER PRIMARY KEY,
  attempt_id INTEGER NOT NULL REFERENCES attempt (id) ON DELETE CASCADE,
  outcome_id INTEGER NOT NULL REFERENCES outcome (id),
  reason TEXT NOT NULL,
  set_aside_at TEXT NOT NULL,
  set_aside_by INTEGER NOT NULL REFERENCES person (id),
  counts_again_at TEXT,
  counts_again_by INTEGER REFERENCES person (id)
) STRICT;

CREATE UNIQUE INDEX evidence_set_aside_now ON evidence_set_aside (attempt_id, outcome_id)
  WHERE counts_again_at IS NULL;

CREATE INDEX evidence_set_aside_of_outcome ON evidence_set_aside (outcome_id);

CREATE TRIGGER stale_by_changed_setting_aside AFTER UPDATE ON evidence_set_aside BEGIN
  INSERT INTO stale_evidence VALUES ('attempt', OLD.attempt_id), ('attempt', NEW.attempt_id);
END;

CREATE TRIGGER stale_by_gone_setting_aside AFTER DELETE ON evidence_set_aside BEGIN
  INSERT INTO stale_evidence VALUES ('attempt', OLD.attempt_id);
END;

CREATE TRIGGER stale_by_new_setting_aside AFTER INSERT ON evidence_set_aside BEGIN
  INSERT INTO stale_evidence VALUES ('attempt', NEW.attempt_id);
END;

CREATE TABLE evidence_stamp (
  student_id INTEGER PRIMARY KEY REFERENCES person (id) ON DELETE CASCADE,
  stamp INTEGER NOT NULL
) STRICT;

CREATE TABLE exemplar (
  id INTEGER PRIMARY KEY,
  rubric_id INTEGER NOT NULL REFERENCES rubric (id) ON DELETE CASCADE,
  attempt_id INTEGER NOT NULL REFERENCES attempt (id) ON DELETE CASCADE,
  version INTEGER NOT NULL,
  title TEXT NOT NULL,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id),
  UNIQUE (rubric_id, attempt_id)
) STRICT;

CREATE TABLE file (
  id INTEGER PRIMARY KEY,
  hash TEXT NOT NULL UNIQUE,
  size INTEGER NOT NULL,
  kind TEXT NOT NULL,
  media_type TEXT NOT NULL,
  kept_at TEXT NOT NULL
) STRICT;

CREATE TABLE guest_link (
  id INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
  token_hash TEXT NOT NULL UNIQUE,
  made_by INTEGER NOT NULL REFERENCES person (id),
  made_at TEXT NOT NULL,
  expires_at TEXT NOT NULL,
  withdrawn_at TEXT
) STRICT;

CREATE INDEX guest_link_of_student ON guest_link (student_id);

CREATE TABLE hand_back (
  id INTEGER PRIMARY KEY,
  mark_id INTEGER NOT NULL REFERENCES mark (id) ON DELETE CASCADE,
  version INTEGER NOT NULL,
  total_shown INTEGER NOT NULL CHECK (total_shown IN (0, 1)),
  visible_at TEXT NOT NULL,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id),
  taken_back_at TEXT,
  taken_back_by INTEGER REFERENCES person (id),
  read_at TEXT,
  next_word TEXT
) STRICT;

CREATE INDEX hand_back_of_mark ON hand_back (mark_id);

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

CREATE TABLE hand_in (
  id INTEGER PRIMARY KEY,
  task_student_id INTEGER NOT NULL REFERENCES task_student (id) ON DELETE CASCADE,
  attempt_number INTEGER NOT NULL,
  text TEXT NOT NULL,
  text_hash TEXT NOT NULL,
  at TEXT NOT NULL,
  taken_back_at TEXT
) STRICT;

CREATE INDEX hand_in_of_task_student ON hand_in (task_student_id);

CREATE TABLE hand_in_part (
  hand_in_id INTEGER NOT NULL REFERENCES hand_in (id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('file', 'link')),
  name TEXT NOT NULL,
  file_id INTEGER REFERENCES file (id),
  sent_hash TEXT NOT NULL,
  PRIMARY KEY (hand_in_id, position)
) STRICT;

CREATE INDEX hand_in_part_file ON hand_in_part (file_id) WHERE file_id IS NOT NULL;

CREATE TABLE invitation (
  id INTEGER PRIMARY KEY,
  person_id INTEGER NOT NULL REFERENCES person (id),
  token_hash TEXT NOT NULL UNIQUE,
  made_by INTEGER NOT NULL REFERENCES person (id),
  made_at TEXT NOT NULL,
  expires_at TEXT NOT NULL,
  used_at TEXT
) STRICT;

CREATE INDEX invitation_of_person ON invitation (person_id);

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

CREATE INDEX judgement_of_outcome ON judgement (outcome_id);

CREATE INDEX judgement_of_student ON judgement (student_id, outcome_id);

CREATE UNIQUE INDEX judgement_that_holds ON judgement (student_id, outcome_id) WHERE until IS NULL;

CREATE TABLE known_device (
  token_hash TEXT PRIMARY KEY,
  seen_at TEXT NOT NULL
) STRICT, WITHOUT ROWID;

CREATE INDEX known_device_seen ON known_device (seen_at);

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

CREATE TABLE mail (
  id INTEGER PRIMARY KEY,
  message_id INTEGER NOT NULL UNIQUE REFERENCES message (id) ON DELETE CASCADE,
  message_key TEXT NOT NULL UNIQUE,
  address TEXT NOT NULL,
  next_try_at TEXT NOT NULL,
  tries INTEGER NOT NULL DEFAULT 0,
  sent_at TEXT,
  gave_up_at TEXT,
  problem TEXT
) STRICT;

CREATE INDEX mail_waiting ON mail (next_try_at) WHERE sent_at IS NULL AND gave_up_at IS NULL;

CREATE TABLE mail_off (
  person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  PRIMARY KEY (person_id, kind)
) STRICT;

CREATE TABLE "mark" (
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

CREATE INDEX mark_open ON mark (attempt_id)
  WHERE role = 'teacher' AND (finished_version IS NULL OR finished_version <> version);

CREATE UNIQUE INDEX mark_that_counts ON mark (attempt_id) WHERE role = 'teacher';

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

CREATE TRIGGER stale_by_new_mark AFTER INSERT ON mark
WHEN NEW.role = 'teacher' AND NEW.finished_version IS NOT NULL BEGIN
  INSERT INTO stale_evidence VALUES ('attempt', NEW.attempt_id);
END;

CREATE TABLE mark_adjustment (
  id INTEGER PRIMARY KEY,
  mark_id INTEGER NOT NULL REFERENCES mark (id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('line', 'waived', 'by-hand')),
  amount INTEGER NOT NULL,
  reason TEXT NOT NULL,
  since_version INTEGER NOT NULL,
  until_version INTEGER,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id)
) STRICT;

CREATE INDEX mark_adjustment_of_mark ON mark_adjustment (mark_id);

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
, carried_from INTEGER CHECK (carried_from > 0)) STRICT;

CREATE INDEX mark_choice_of_mark ON mark_choice (mark_id, until_version);

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

CREATE TRIGGER stale_by_new_choice AFTER INSERT ON mark_choice
WHEN EXISTS (SELECT 1 FROM teachers_mark
             WHERE id = NEW.mark_id AND NEW.since_version <= finished_version
               AND (NEW.until_version IS NULL OR finished_version < NEW.until_version)) BEGIN
  INSERT INTO stale_evidence
  SELECT 'attempt', attempt_id FROM mark WHERE id = NEW.mark_id;
END;

CREATE TABLE mark_file (
  id INTEGER PRIMARY KEY,
  mark_id INTEGER NOT NULL REFERENCES mark (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('recording', 'file')),
  criterion_key TEXT,
  passage_key TEXT,
  name TEXT NOT NULL,
  words TEXT NOT NULL,
  seconds INTEGER NOT NULL DEFAULT 0,
  file_id INTEGER REFERENCES file (id),
  since_version INTEGER NOT NULL,
  until_version INTEGER,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id)
) STRICT;

CREATE INDEX mark_file_file ON mark_file (file_id) WHERE file_id IS NOT NULL;

CREATE INDEX mark_file_of_mark ON mark_file (mark_id, key);

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

CREATE INDEX mark_remark_of_mark ON mark_remark (mark_id, until_version);

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

CREATE TABLE message (
  id INTEGER PRIMARY KEY,
  person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  subject TEXT NOT NULL,
  text TEXT NOT NULL,
  path TEXT NOT NULL,
  task_id INTEGER REFERENCES task (id) ON DELETE SET NULL,
  visible_at TEXT NOT NULL,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id),
  seen_at TEXT
) STRICT;

CREATE INDEX message_of_person ON message (person_id);

CREATE INDEX message_of_task ON message (task_id) WHERE task_id IS NOT NULL;

CREATE TABLE method_before (
  id INTEGER PRIMARY KEY,
  class_id INTEGER NOT NULL REFERENCES school_class (id) ON DELETE CASCADE,
  outcome_id INTEGER REFERENCES outcome (id) ON DELETE CASCADE,
  until TEXT NOT NULL,
  method TEXT,
  newest INTEGER NOT NULL,
  last INTEGER NOT NULL
) STRICT;

CREATE INDEX method_before_of_outcome ON method_before (outcome_id);

CREATE UNIQUE INDEX method_before_once ON method_before (class_id, ifnull(outcome_id, 0), until);

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

CREATE TABLE note (
  id INTEGER PRIMARY KEY,
  key TEXT NOT NULL,
  class_id INTEGER NOT NULL REFERENCES school_class (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES person (id),
  outcome_id INTEGER NOT NULL REFERENCES outcome (id),
  version INTEGER NOT NULL CHECK (version > 0),
  written_at TEXT NOT NULL,
  written_by INTEGER NOT NULL REFERENCES person (id),
  shown_at TEXT,
  UNIQUE (written_by, key, student_id)
) STRICT;

CREATE INDEX note_of_class ON note (class_id);

CREATE INDEX note_of_outcome ON note (outcome_id);

CREATE INDEX note_of_student ON note (student_id, outcome_id);

CREATE TRIGGER evidence_goes_with_note AFTER DELETE ON note BEGIN
  DELETE FROM evidence WHERE source_kind = 'note' AND source_id = OLD.id;
END;

CREATE TRIGGER stale_by_changed_note
AFTER UPDATE OF student_id, outcome_id, version, written_at ON note BEGIN
  INSERT INTO stale_evidence VALUES ('note', OLD.id), ('note', NEW.id);
END;

CREATE TRIGGER stale_by_new_note AFTER INSERT ON note BEGIN
  INSERT INTO stale_evidence VALUES ('note', NEW.id);
END;

CREATE TABLE note_file (
  id INTEGER PRIMARY KEY,
  note_id INTEGER NOT NULL REFERENCES note (id) ON DELETE CASCADE,
  key TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('recording', 'file')),
  name TEXT NOT NULL,
  seconds INTEGER NOT NULL DEFAULT 0,
  file_id INTEGER REFERENCES file (id),
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id),
  UNIQUE (note_id, key)
) STRICT;

CREATE INDEX note_file_file ON note_file (file_id) WHERE file_id IS NOT NULL;

CREATE TABLE note_version (
  note_id INTEGER NOT NULL REFERENCES note (id) ON DELETE CASCADE,
  version INTEGER NOT NULL,
  level INTEGER NOT NULL CHECK (level >= 0),
  levels INTEGER NOT NULL CHECK (levels > level),
  half_way INTEGER NOT NULL CHECK (half_way IN (0, 1)),
  words TEXT NOT NULL,
  seen_at TEXT NOT NULL,
  withdrawn INTEGER NOT NULL CHECK (withdrawn IN (0, 1)),
  -- Why it does not count, since when, and who said so.
  aside TEXT,
  aside_at TEXT,
  aside_by INTEGER REFERENCES person (id),
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id),
  PRIMARY KEY (note_id, version)
) STRICT, WITHOUT ROWID;

CREATE TRIGGER stale_by_changed_note_version AFTER UPDATE ON note_version BEGIN
  INSERT INTO stale_evidence VALUES ('note', OLD.note_id), ('note', NEW.note_id);
END;

CREATE TRIGGER stale_by_gone_note_version AFTER DELETE ON note_version BEGIN
  INSERT INTO stale_evidence VALUES ('note', OLD.note_id);
END;

CREATE TRIGGER stale_by_new_note_version AFTER INSERT ON note_version BEGIN
  INSERT INTO stale_evidence VALUES ('note', NEW.note_id);
END;

CREATE TABLE notice (
  id INTEGER PRIMARY KEY,
  person_id INTEGER NOT NULL REFERENCES person (id),
  at TEXT NOT NULL,
  kind TEXT NOT NULL,
  details TEXT NOT NULL,
  seen_at TEXT
) STRICT;

CREATE INDEX notice_unseen ON notice (person_id) WHERE seen_at IS NULL;

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
, framework TEXT) STRICT;

CREATE INDEX outcome_of_framework ON outcome (framework);

CREATE TRIGGER stale_by_other_scale AFTER UPDATE OF scale_id ON outcome
WHEN OLD.scale_id IS NOT NEW.scale_id BEGIN
  INSERT INTO stale_evidence SELECT 'note', id FROM note WHERE outcome_id = NEW.id;
END;

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

CREATE TABLE person (
  id INTEGER PRIMARY KEY,
  given_name TEXT NOT NULL,
  family_name TEXT NOT NULL,
  identifier TEXT UNIQUE,
  email TEXT,
  password_hash TEXT,
  may_teach INTEGER NOT NULL DEFAULT 0 CHECK (may_teach IN (0, 1))
, administrator INTEGER NOT NULL DEFAULT 0
  CHECK (administrator IN (0, 1)), ended_at TEXT, sign_in_name TEXT, sign_in_key TEXT, email_by INTEGER REFERENCES person (id)) STRICT;

CREATE UNIQUE INDEX person_email_of_teachers ON person (lower(email)) WHERE may_teach = 1;

CREATE UNIQUE INDEX person_sign_in_key ON person (sign_in_key) WHERE sign_in_key IS NOT NULL;

CREATE TABLE preparation (
  file_id INTEGER PRIMARY KEY REFERENCES file (id) ON DELETE CASCADE,
  person_id INTEGER NOT NULL REFERENCES person (id),
  asked_at TEXT NOT NULL
) STRICT;

CREATE INDEX preparation_of_person ON preparation (person_id, asked_at);

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

CREATE INDEX removed_part_file ON removed_part (file_id) WHERE file_id IS NOT NULL;

CREATE INDEX removed_part_of_draft ON removed_part (draft_of);

CREATE TABLE revision (
  id INTEGER PRIMARY KEY,
  rubric_id INTEGER NOT NULL REFERENCES rubric (id) ON DELETE CASCADE,
  number INTEGER NOT NULL,
  final_at TEXT, points_shown INTEGER NOT NULL DEFAULT 1
  CHECK (points_shown IN (0, 1)), title TEXT,
  UNIQUE (rubric_id, number)
) STRICT;

CREATE TABLE rubric (
  id INTEGER PRIMARY KEY,
  owner_id INTEGER NOT NULL REFERENCES person (id),
  title TEXT NOT NULL,
  changed_at TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1
, guid TEXT, archived_at TEXT, shared INTEGER NOT NULL DEFAULT 0 CHECK (shared IN (0, 1))) STRICT;

CREATE UNIQUE INDEX rubric_guid ON rubric (guid);

CREATE INDEX rubric_of_owner ON rubric (owner_id);

CREATE TABLE rubric_tag (
  rubric_id INTEGER NOT NULL REFERENCES rubric (id) ON DELETE CASCADE,
  tag TEXT NOT NULL,
  PRIMARY KEY (rubric_id, tag)
) STRICT;

CREATE TABLE scale (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  mastery INTEGER NOT NULL,
  version INTEGER NOT NULL DEFAULT 1
, owner_id INTEGER REFERENCES person (id)) STRICT;

CREATE TABLE scale_level (
  id INTEGER PRIMARY KEY,
  scale_id INTEGER NOT NULL REFERENCES scale (id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  name TEXT NOT NULL,
  code TEXT NOT NULL,
  value INTEGER NOT NULL,
  cut INTEGER NOT NULL, description TEXT NOT NULL DEFAULT '',
  UNIQUE (scale_id, position)
) STRICT;

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

CREATE TRIGGER stale_by_new_scale_level AFTER INSERT ON scale_level BEGIN
  INSERT INTO stale_evidence
  SELECT 'note', n.id FROM outcome o JOIN note n ON n.outcome_id = o.id
  WHERE o.scale_id = NEW.scale_id;
END;

CREATE TABLE school (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  name TEXT NOT NULL,
  time_zone TEXT NOT NULL
, demo INTEGER NOT NULL DEFAULT 0 CHECK (demo IN (0, 1)), thin INTEGER NOT NULL DEFAULT 2 CHECK (thin BETWEEN 2 AND 20), language TEXT NOT NULL DEFAULT 'en') STRICT;

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
, guid TEXT, responsible_id INTEGER REFERENCES person (id), set_aside_at TEXT, sample INTEGER NOT NULL DEFAULT 0 CHECK (sample IN (0, 1)), strand_roll_up TEXT NOT NULL DEFAULT 'mean'
  CHECK (strand_roll_up IN ('mean', 'lowest'))) STRICT;

CREATE UNIQUE INDEX school_class_guid ON school_class (guid);

CREATE TRIGGER stale_by_changed_class AFTER UPDATE OF combining ON school_class
WHEN OLD.combining IS NOT NEW.combining BEGIN
  INSERT INTO stale_evidence VALUES ('class', NEW.id);
END;

CREATE TABLE seat (
  class_id INTEGER NOT NULL REFERENCES school_class (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES person (id),
  position INTEGER NOT NULL,
  PRIMARY KEY (class_id, student_id)
) STRICT, WITHOUT ROWID;

CREATE TABLE "session" (
  id INTEGER PRIMARY KEY,
  token_hash TEXT NOT NULL UNIQUE,
  person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
  made_at TEXT NOT NULL,
  expires_at TEXT NOT NULL,
  device TEXT NOT NULL DEFAULT ''
, idle INTEGER NOT NULL DEFAULT 0 CHECK (idle IN (0, 1))) STRICT;

CREATE INDEX session_of_person ON session (person_id);

CREATE TABLE shown_document (
  file_id INTEGER PRIMARY KEY REFERENCES file (id) ON DELETE CASCADE,
  converter INTEGER NOT NULL,
  html TEXT NOT NULL,
  words INTEGER NOT NULL,
  left_out TEXT NOT NULL,
  problem TEXT NOT NULL
) STRICT;

CREATE TABLE slip_request (
  id INTEGER PRIMARY KEY,
  student_id INTEGER NOT NULL REFERENCES person (id),
  class_id INTEGER NOT NULL REFERENCES school_class (id),
  asked_by INTEGER NOT NULL REFERENCES person (id),
  asked_at TEXT NOT NULL,
  granted_by INTEGER REFERENCES person (id),
  granted_at TEXT,
  used_at TEXT
) STRICT;

CREATE INDEX slip_request_open ON slip_request (student_id) WHERE used_at IS NULL;

CREATE TABLE stale_evidence (
  kind TEXT NOT NULL CHECK (kind IN ('attempt', 'note', 'task', 'class', 'outcome')),
  number INTEGER NOT NULL
) STRICT;

CREATE TABLE strand (
  id INTEGER PRIMARY KEY,
  owner_id INTEGER REFERENCES person (id),
  parent_id INTEGER REFERENCES strand (id),
  title TEXT NOT NULL,
  position INTEGER NOT NULL
, guid TEXT) STRICT;

CREATE UNIQUE INDEX strand_guid ON strand (guid);

CREATE TABLE tap (
  person_id INTEGER NOT NULL REFERENCES person (id),
  key TEXT NOT NULL,
  task_id INTEGER NOT NULL REFERENCES task (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES person (id),
  made_at TEXT NOT NULL,
  received_at TEXT NOT NULL,
  PRIMARY KEY (person_id, key)
) STRICT, WITHOUT ROWID;

CREATE INDEX tap_of_task ON tap (task_id);

CREATE TABLE "task" (
  id INTEGER PRIMARY KEY,
  class_id INTEGER NOT NULL REFERENCES school_class (id),
  revision_id INTEGER REFERENCES revision (id),
  title TEXT NOT NULL,
  instructions TEXT NOT NULL DEFAULT '',
  kind TEXT NOT NULL REFERENCES task_kind (kind),
  due_at TEXT,
  points INTEGER,
  practice INTEGER NOT NULL DEFAULT 0 CHECK (practice IN (0, 1)),
  attempts_rule TEXT NOT NULL DEFAULT 'latest',
  made_at TEXT NOT NULL,
  version INTEGER NOT NULL DEFAULT 1,
  closes_at TEXT,
  rubric_shown INTEGER NOT NULL DEFAULT 1 CHECK (rubric_shown IN (0, 1)),
  total_shown INTEGER NOT NULL DEFAULT 1 CHECK (total_shown IN (0, 1)),
  late_per_day INTEGER NOT NULL DEFAULT 0 CHECK (late_per_day BETWEEN 0 AND 100),
  late_most INTEGER NOT NULL DEFAULT 100 CHECK (late_most BETWEEN 0 AND 100),
  set_at TEXT,
  for_all INTEGER NOT NULL DEFAULT 1 CHECK (for_all IN (0, 1)),
  category TEXT NOT NULL DEFAULT '',
  starting_text TEXT NOT NULL DEFAULT '',
  asked TEXT CHECK (asked IS NULL OR json_valid(asked)),
  instructions_html TEXT
) STRICT;

CREATE INDEX task_of_class ON task (class_id);

CREATE INDEX task_of_revision ON task (revision_id);

CREATE TRIGGER rubric_of_changed_task BEFORE UPDATE OF kind, revision_id ON task
WHEN (SELECT rubric FROM task_kind WHERE kind = NEW.kind) <> (NEW.revision_id IS NOT NULL) BEGIN
  SELECT RAISE(ABORT, 'a task has a rubric where its kind has one');
END;

CREATE TRIGGER rubric_of_new_task BEFORE INSERT ON task
WHEN (SELECT rubric FROM task_kind WHERE kind = NEW.kind) <> (NEW.revision_id IS NOT NULL) BEGIN
  SELECT RAISE(ABORT, 'a task has a rubric where its kind has one');
END;

CREATE TRIGGER stale_by_changed_task AFTER UPDATE OF class_id, practice ON task
WHEN (OLD.class_id, OLD.practice) IS NOT (NEW.class_id, NEW.practice) BEGIN
  INSERT INTO stale_evidence VALUES ('task', NEW.id);
END;

CREATE TABLE task_file (
  id INTEGER PRIMARY KEY,
  task_id INTEGER NOT NULL REFERENCES task (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  file_id INTEGER NOT NULL REFERENCES file (id),
  sent_hash TEXT NOT NULL,
  starting INTEGER NOT NULL CHECK (starting IN (0, 1)),
  upload_id INTEGER UNIQUE,
  added_at TEXT NOT NULL,
  added_by INTEGER NOT NULL REFERENCES person (id)
) STRICT;

CREATE INDEX task_file_file ON task_file (file_id);

CREATE INDEX task_file_of_task ON task_file (task_id);

CREATE TABLE task_kind (
  kind TEXT PRIMARY KEY,
  rubric INTEGER NOT NULL CHECK (rubric IN (0, 1))
) STRICT, WITHOUT ROWID;

CREATE TABLE task_student (
  id INTEGER PRIMARY KEY,
  task_id INTEGER NOT NULL REFERENCES task (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES person (id),
  excused INTEGER NOT NULL DEFAULT 0 CHECK (excused IN (0, 1)), opened_at TEXT, chosen INTEGER NOT NULL DEFAULT 0 CHECK (chosen IN (0, 1)), due_at TEXT, closes_at TEXT,
  UNIQUE (task_id, student_id)
) STRICT;

CREATE INDEX task_student_of_student ON task_student (student_id);

CREATE TRIGGER stale_by_changed_task_student
AFTER UPDATE OF task_id, student_id, excused ON task_student
WHEN (OLD.task_id, OLD.student_id, OLD.excused) IS NOT (NEW.task_id, NEW.student_id, NEW.excused)
BEGIN
  INSERT INTO stale_evidence SELECT 'attempt', id FROM attempt WHERE task_student_id = NEW.id;
END;

CREATE VIEW teachers_mark AS SELECT * FROM mark WHERE role = 'teacher';

CREATE TABLE upload (
  id INTEGER PRIMARY KEY AUTOINCREMENT,
  person_id INTEGER NOT NULL REFERENCES person (id),
  key TEXT NOT NULL,
  name TEXT NOT NULL,
  size INTEGER NOT NULL,
  begun_at TEXT NOT NULL,
  UNIQUE (person_id, key)
) STRICT;

CREATE TABLE wish (
  id INTEGER PRIMARY KEY,
  attempt_id INTEGER NOT NULL UNIQUE REFERENCES attempt (id) ON DELETE CASCADE,
  words TEXT NOT NULL,
  made_at TEXT NOT NULL,
  granted INTEGER CHECK (granted IN (0, 1)),
  answer TEXT,
  answered_at TEXT,
  answered_by INTEGER REFERENCES person (id)
, due_at TEXT, asked INTEGER NOT NULL DEFAULT 1 CHECK (asked IN (0, 1)), declined_answer TEXT, declined_at TEXT, declined_by INTEGER REFERENCES person (id)) STRICT;

CREATE INDEX wish_open ON wish (attempt_id) WHERE granted IS NULL;

CREATE TABLE "work_part" (
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

CREATE INDEX work_part_batch ON work_part (batch) WHERE batch IS NOT NULL;

CREATE INDEX work_part_file ON work_part (file_id) WHERE file_id IS NOT NULL;

CREATE INDEX work_part_replaced ON work_part (replaced_of) WHERE replaced_of IS NOT NULL;
