-- Files that wait to be made ready to be shown, or are being: documents and Markdown to become HTML,
-- pictures to be written upright and without what the camera wrote. Until then nobody is served one.
CREATE TABLE preparation (
  file_id INTEGER PRIMARY KEY REFERENCES file (id) ON DELETE CASCADE,
  person_id INTEGER NOT NULL REFERENCES person (id),
  asked_at TEXT NOT NULL
) STRICT;
CREATE INDEX preparation_of_person ON preparation (person_id, asked_at);

-- Instructions as HTML, made when they are saved; NULL: saved before that was kept.
ALTER TABLE task ADD COLUMN instructions_html TEXT;
