-- What somebody else did to a person's things, until they have seen it. details is JSON.
CREATE TABLE notice (
  id INTEGER PRIMARY KEY,
  person_id INTEGER NOT NULL REFERENCES person (id),
  at TEXT NOT NULL,
  kind TEXT NOT NULL,
  details TEXT NOT NULL,
  seen_at TEXT
) STRICT;
CREATE INDEX notice_unseen ON notice (person_id) WHERE seen_at IS NULL;
