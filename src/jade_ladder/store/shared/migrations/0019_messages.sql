-- What people are told, in the application: seen from visible_at on. text is whole as it was sent.
CREATE TABLE message (
  id INTEGER PRIMARY KEY,
  person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  subject TEXT NOT NULL,
  text TEXT NOT NULL,
  path TEXT NOT NULL,
  task_id INTEGER REFERENCES task (id) ON DELETE SET NULL,
  visible_at TEXT NOT NULL,
  made_at TEXT NOT NULL,
  made_by INTEGER NOT NULL REFERENCES person (id),
  seen_at TEXT
) STRICT;
CREATE INDEX message_of_person ON message (person_id);
CREATE INDEX message_of_task ON message (task_id) WHERE task_id IS NOT NULL;

-- The outbox: a message as mail. It is queued in the transaction of what it tells, and sent after;
-- message_key is its Message-ID, the same at every try.
CREATE TABLE mail (
  id INTEGER PRIMARY KEY,
  message_id INTEGER NOT NULL UNIQUE REFERENCES message (id) ON DELETE CASCADE,
  message_key TEXT NOT NULL UNIQUE,
  address TEXT NOT NULL,
  next_try_at TEXT NOT NULL,
  tries INTEGER NOT NULL DEFAULT 0,
  sent_at TEXT,
  gave_up_at TEXT,
  problem TEXT
) STRICT;
CREATE INDEX mail_waiting ON mail (next_try_at) WHERE sent_at IS NULL AND gave_up_at IS NULL;

-- Kinds of message that somebody does not want as mail.
CREATE TABLE mail_off (
  person_id INTEGER NOT NULL REFERENCES person (id) ON DELETE CASCADE,
  kind TEXT NOT NULL,
  PRIMARY KEY (person_id, kind)
) STRICT;
