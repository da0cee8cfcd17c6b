-- The administrator of the school: at first its first teacher.
ALTER TABLE person ADD COLUMN administrator INTEGER NOT NULL DEFAULT 0
  CHECK (administrator IN (0, 1));
UPDATE person SET administrator = 1
WHERE id = (SELECT min(id) FROM person WHERE may_teach = 1);

-- owner_id NULL: the school's, which only an administrator changes.
ALTER TABLE scale ADD COLUMN owner_id INTEGER REFERENCES person (id);

-- Made by the demo command, which lets anybody in: no other database is opened by it.
ALTER TABLE school ADD COLUMN demo INTEGER NOT NULL DEFAULT 0 CHECK (demo IN (0, 1));
