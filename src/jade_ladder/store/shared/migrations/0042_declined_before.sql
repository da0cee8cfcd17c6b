-- What was answered to a wish before an attempt was opened all the same: closing that, as if nothing
-- had happened, brings the answer back.
ALTER TABLE wish ADD COLUMN declined_answer TEXT;
ALTER TABLE wish ADD COLUMN declined_at TEXT;
ALTER TABLE wish ADD COLUMN declined_by INTEGER REFERENCES person (id);
