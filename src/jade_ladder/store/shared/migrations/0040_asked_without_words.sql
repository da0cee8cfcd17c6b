-- Whether a student asked for another attempt, with words or without, or a teacher opened it unasked.
ALTER TABLE wish ADD COLUMN asked INTEGER NOT NULL DEFAULT 1 CHECK (asked IN (0, 1));
UPDATE wish SET asked = 0 WHERE words = '' AND answered_at = made_at;
