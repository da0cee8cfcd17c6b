-- The library: rubrics put away and brought back, shared within the school, and tagged.
ALTER TABLE rubric ADD COLUMN archived_at TEXT;
ALTER TABLE rubric ADD COLUMN shared INTEGER NOT NULL DEFAULT 0 CHECK (shared IN (0, 1));

CREATE TABLE rubric_tag (
  rubric_id INTEGER NOT NULL REFERENCES rubric (id) ON DELETE CASCADE,
  tag TEXT NOT NULL,
  PRIMARY KEY (rubric_id, tag)
) STRICT;
