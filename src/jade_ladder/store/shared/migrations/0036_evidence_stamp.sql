-- What is worked out of a student's evidence can be kept until it changes: `stamp` is another number
-- after each change of it, and never one that stood there before, also after a backup is restored.
CREATE TABLE evidence_stamp (
  student_id INTEGER PRIMARY KEY REFERENCES person (id) ON DELETE CASCADE,
  stamp INTEGER NOT NULL
) STRICT;

INSERT INTO evidence_stamp (student_id, stamp)
SELECT student_id, random()
FROM (SELECT student_id FROM evidence UNION SELECT student_id FROM note)
ORDER BY student_id;

CREATE TRIGGER stamp_new_evidence AFTER INSERT ON evidence BEGIN
  INSERT INTO evidence_stamp VALUES (NEW.student_id, random())
  ON CONFLICT (student_id) DO UPDATE SET stamp = excluded.stamp;
END;

CREATE TRIGGER stamp_changed_evidence AFTER UPDATE ON evidence BEGIN
  UPDATE evidence_stamp SET stamp = random() WHERE student_id IN (OLD.student_id, NEW.student_id);
END;

CREATE TRIGGER stamp_gone_evidence AFTER DELETE ON evidence BEGIN
  UPDATE evidence_stamp SET stamp = random() WHERE student_id = OLD.student_id;
END;

CREATE TRIGGER stamp_new_note AFTER INSERT ON note BEGIN
  INSERT INTO evidence_stamp VALUES (NEW.student_id, random())
  ON CONFLICT (student_id) DO UPDATE SET stamp = excluded.stamp;
END;

CREATE TRIGGER stamp_changed_note AFTER UPDATE ON note BEGIN
  UPDATE evidence_stamp SET stamp = random() WHERE student_id IN (OLD.student_id, NEW.student_id);
END;

CREATE TRIGGER stamp_gone_note AFTER DELETE ON note BEGIN
  UPDATE evidence_stamp SET stamp = random() WHERE student_id = OLD.student_id;
END;

CREATE TRIGGER stamp_new_note_version AFTER INSERT ON note_version BEGIN
  UPDATE evidence_stamp SET stamp = random()
  WHERE student_id = (SELECT student_id FROM note WHERE id = NEW.note_id);
END;

CREATE TRIGGER stamp_changed_note_version AFTER UPDATE ON note_version BEGIN
  UPDATE evidence_stamp SET stamp = random()
  WHERE student_id = (SELECT student_id FROM note WHERE id = NEW.note_id);
END;
