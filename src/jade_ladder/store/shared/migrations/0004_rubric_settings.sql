-- Whether the marker may write remarks on a criterion, whether its points may fall as levels rise
-- (on purpose), and whether students see the points.
ALTER TABLE criterion ADD COLUMN remarks INTEGER NOT NULL DEFAULT 1 CHECK (remarks IN (0, 1));
ALTER TABLE criterion ADD COLUMN any_order INTEGER NOT NULL DEFAULT 0 CHECK (any_order IN (0, 1));
ALTER TABLE revision ADD COLUMN points_shown INTEGER NOT NULL DEFAULT 1
  CHECK (points_shown IN (0, 1));
