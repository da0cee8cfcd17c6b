-- An account that was ended keeps everything and signs in no more.
ALTER TABLE person ADD COLUMN ended_at TEXT;

-- Who answers for a class among its teachers; a class that is over is set aside, read only.
ALTER TABLE school_class ADD COLUMN responsible_id INTEGER REFERENCES person (id);
ALTER TABLE school_class ADD COLUMN set_aside_at TEXT;
UPDATE school_class SET responsible_id = (
  SELECT m.person_id FROM membership m
  WHERE m.class_id = school_class.id AND m.role = 'teacher'
  ORDER BY m.until IS NOT NULL, m.id LIMIT 1);

-- A link by which a person sets their password, once. Only a hash of its token is kept.
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

-- Sessions have a number, to be ended from elsewhere, and say on what they were begun.
CREATE TABLE session_with_number (
  id INTEGER PRIMARY KEY,
  token_hash TEXT NOT NULL UNIQUE,
  person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
  made_at TEXT NOT NULL,
  expires_at TEXT NOT NULL,
  device TEXT NOT NULL DEFAULT ''
) STRICT;
INSERT INTO session_with_number (token_hash, person_id, made_at, expires_at)
  SELECT token_hash, person_id, made_at, expires_at FROM session ORDER BY made_at, token_hash;
DROP TABLE session;
ALTER TABLE session_with_number RENAME TO session;
CREATE INDEX session_of_person ON session (person_id);
