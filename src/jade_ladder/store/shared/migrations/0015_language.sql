-- The language (BCP 47) by whose rules the school sorts names.
ALTER TABLE school ADD COLUMN language TEXT NOT NULL DEFAULT 'en';
