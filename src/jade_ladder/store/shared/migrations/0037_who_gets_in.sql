-- Who wrote a person's e-mail: besides teachers of the class that took them first and
-- administrators, it is shown to them alone. NULL: written before this was kept.
ALTER TABLE person ADD COLUMN email_by INTEGER REFERENCES person (id);

-- A teacher asks for a slip for a student who has a password already; who may make one grants it,
-- and it is good for one slip.
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

-- Browsers in which somebody signed in before, by the hash of a random cookie; nothing says who.
CREATE TABLE known_device (
  token_hash TEXT PRIMARY KEY,
  seen_at TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX known_device_seen ON known_device (seen_at);
