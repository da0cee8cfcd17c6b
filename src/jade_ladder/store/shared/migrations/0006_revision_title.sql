-- The title of a rubric while it is being revised, until the revision is applied; NULL: the rubric's.
ALTER TABLE revision ADD COLUMN title TEXT;
