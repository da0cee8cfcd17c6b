-- Who has a link made for one student, and reads what it names: of its secret only a hash is kept.
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

-- Who marks an attempt since they were assigned to it, in which role.
CREATE TABLE assigned_marker (
  attempt_id INTEGER NOT NULL REFERENCES attempt (id) ON DELETE CASCADE,
  person_id INTEGER NOT NULL REFERENCES person (id),
  role TEXT NOT NULL CHECK (role IN ('peer', 'second-marker')),
  PRIMARY KEY (attempt_id, person_id, role)
) STRICT, WITHOUT ROWID;
CREATE INDEX assigned_marker_of_person ON assigned_marker (person_id);
