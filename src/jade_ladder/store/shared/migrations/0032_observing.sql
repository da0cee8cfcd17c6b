-- What is seen in the room. A tap has a key of its own from the device it was made on, so that sent
-- twice it is one.
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

-- That a student was not there, on a day of the school.
CREATE TABLE absence (
  task_student_id INTEGER NOT NULL REFERENCES task_student (id) ON DELETE CASCADE,
  day TEXT NOT NULL,
  said_at TEXT NOT NULL,
  said_by INTEGER NOT NULL REFERENCES person (id),
  PRIMARY KEY (task_student_id, day)
) STRICT, WITHOUT ROWID;

-- In what order a class sits.
CREATE TABLE seat (
  class_id INTEGER NOT NULL REFERENCES school_class (id) ON DELETE CASCADE,
  student_id INTEGER NOT NULL REFERENCES person (id),
  position INTEGER NOT NULL,
  PRIMARY KEY (class_id, student_id)
) STRICT, WITHOUT ROWID;
