-- A sample class is there to be looked at, and is deleted whole with what came with it.
ALTER TABLE school_class ADD COLUMN sample INTEGER NOT NULL DEFAULT 0 CHECK (sample IN (0, 1));
