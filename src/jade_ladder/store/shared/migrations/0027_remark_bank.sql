-- Texts that a teacher writes again and again, with fields in place of names. `words` is the text
-- as it is searched. `kept` where it stays when nothing uses it (it was pinned or edited);
-- `deleted` where it stays away when it is written again.
CREATE TABLE bank_remark (
  id INTEGER PRIMARY KEY,
  teacher_id INTEGER NOT NULL REFERENCES person (id),
  text TEXT NOT NULL,
  words TEXT NOT NULL,
  uses INTEGER NOT NULL DEFAULT 0,
  used_at TEXT NOT NULL,
  pinned INTEGER NOT NULL DEFAULT 0 CHECK (pinned IN (0, 1)),
  kept INTEGER NOT NULL DEFAULT 0 CHECK (kept IN (0, 1)),
  deleted INTEGER NOT NULL DEFAULT 0 CHECK (deleted IN (0, 1)),
  UNIQUE (teacher_id, text)
) STRICT;
CREATE INDEX bank_remark_offered
  ON bank_remark (teacher_id, deleted, pinned DESC, uses DESC, used_at DESC);

-- Where a text of the bank stands now: in a mark, at a place in it ('whole', 'on ' and the key of a
-- criterion, 'at ' and the key of a passage), for which criterion and level (by their keys; '': none).
CREATE TABLE bank_use (
  mark_id INTEGER NOT NULL REFERENCES mark (id) ON DELETE CASCADE,
  place TEXT NOT NULL,
  criterion_key TEXT NOT NULL,
  level_key TEXT NOT NULL,
  remark_id INTEGER NOT NULL REFERENCES bank_remark (id) ON DELETE CASCADE,
  teacher_id INTEGER NOT NULL REFERENCES person (id),
  used_at TEXT NOT NULL,
  PRIMARY KEY (mark_id, place)
) STRICT, WITHOUT ROWID;
CREATE INDEX bank_use_of_criterion
  ON bank_use (teacher_id, criterion_key, level_key, remark_id, used_at);
CREATE INDEX bank_use_of_remark ON bank_use (remark_id, used_at);

-- How often a text is used is kept right here, since uses also go with the marks that they are in;
-- and what nothing uses goes, unless it is to stay.
CREATE TRIGGER bank_use_added AFTER INSERT ON bank_use BEGIN
  UPDATE bank_remark SET uses = uses + 1 WHERE id = NEW.remark_id;
END;
CREATE TRIGGER bank_use_gone AFTER DELETE ON bank_use BEGIN
  UPDATE bank_remark SET uses = uses - 1 WHERE id = OLD.remark_id;
  DELETE FROM bank_remark WHERE id = OLD.remark_id AND uses = 0 AND kept = 0 AND deleted = 0;
END;
CREATE TRIGGER bank_use_moved AFTER UPDATE OF remark_id ON bank_use
WHEN OLD.remark_id <> NEW.remark_id BEGIN
  UPDATE bank_remark SET uses = uses + 1 WHERE id = NEW.remark_id;
  UPDATE bank_remark SET uses = uses - 1 WHERE id = OLD.remark_id;
  DELETE FROM bank_remark WHERE id = OLD.remark_id AND uses = 0 AND kept = 0 AND deleted = 0;
END;
