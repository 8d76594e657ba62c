-- What a crate held when it was made or last checked, as the stock lists it: whether it still does is told by what stands there.
CREATE TABLE crate_files (
  crate_id TEXT NOT NULL REFERENCES crates (id) ON DELETE CASCADE,
  -- Below its root; of a sequence the name that the stock gives it.
  path TEXT NOT NULL,
  bytes INTEGER NOT NULL,
  -- As items.content; null of an empty file.
  content TEXT,
  PRIMARY KEY (crate_id, path)
) STRICT, WITHOUT ROWID;

-- When all of it was read and compared last: when it was made, or in a check since.
ALTER TABLE crates ADD COLUMN checked_at TEXT;
-- Until this day (as 2027-03-31, inclusive) no undo takes it; and since when it counts as handed over.
ALTER TABLE crates ADD COLUMN locked_until TEXT;
ALTER TABLE crates ADD COLUMN accepted_at TEXT;
-- What it says of itself: version, sender, receiver, licence and the like, as JSON.
ALTER TABLE crates ADD COLUMN about TEXT;

-- What was wrong with the crate that a project was opened from: its name, the run, and what was said, as JSON.
ALTER TABLE projects ADD COLUMN opened_from TEXT;

-- Where and on which machine this catalogue was started last, so that a copy of it knows that it is one.
ALTER TABLE house ADD COLUMN started_as TEXT;

-- What is wrong with a file of media that stands there and cannot be read, or not all of it; null while nothing is known.
ALTER TABLE items ADD COLUMN damage TEXT;
CREATE TRIGGER stamp_items_damage AFTER UPDATE OF damage ON items WHEN OLD.damage IS NOT NEW.damage BEGIN
  INSERT INTO stamps VALUES (NEW.shelf_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1;
END;

-- Frames that were decoded without a fault, by what every byte of their file is: a copy of it need not be decoded again.
CREATE TABLE decoded (
  content TEXT NOT NULL,
  start_frame INTEGER NOT NULL,
  -- Exclusive.
  end_frame INTEGER NOT NULL,
  decoded_at TEXT NOT NULL,
  PRIMARY KEY (content, start_frame, end_frame)
) STRICT, WITHOUT ROWID;
CREATE TRIGGER stamp_decoded_insert AFTER INSERT ON decoded BEGIN INSERT INTO stamps VALUES ('decoded', 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
