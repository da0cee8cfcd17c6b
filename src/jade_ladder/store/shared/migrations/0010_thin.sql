-- Evidence from fewer different sources than this is thin.
ALTER TABLE school ADD COLUMN thin INTEGER NOT NULL DEFAULT 2 CHECK (thin BETWEEN 2 AND 20);
