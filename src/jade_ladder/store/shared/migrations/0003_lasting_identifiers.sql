-- Lasting identifiers (UUIDs) of what is exchanged in files, and the document an outcome came from.
ALTER TABLE strand ADD COLUMN guid TEXT;
ALTER TABLE rubric ADD COLUMN guid TEXT;
ALTER TABLE school_class ADD COLUMN guid TEXT;
ALTER TABLE outcome ADD COLUMN framework TEXT;

UPDATE strand SET guid = lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4' ||
  substr(hex(randomblob(2)), 2) || '-8' || substr(hex(randomblob(2)), 2) || '-' ||
  hex(randomblob(6)));
UPDATE rubric SET guid = lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4' ||
  substr(hex(randomblob(2)), 2) || '-8' || substr(hex(randomblob(2)), 2) || '-' ||
  hex(randomblob(6)));
UPDATE school_class SET guid = lower(hex(randomblob(4)) || '-' || hex(randomblob(2)) || '-4' ||
  substr(hex(randomblob(2)), 2) || '-8' || substr(hex(randomblob(2)), 2) || '-' ||
  hex(randomblob(6)));

CREATE UNIQUE INDEX strand_guid ON strand (guid);
CREATE UNIQUE INDEX rubric_guid ON rubric (guid);
CREATE UNIQUE INDEX school_class_guid ON school_class (guid);
CREATE INDEX outcome_of_framework ON outcome (framework);
