-- What an item may be named or answer to, as keys (core/matching/tells.ts): timelines ask for them. Null until filled.
ALTER TABLE items ADD COLUMN tells TEXT;

-- By key, and by when the item begins: seconds of its timecode, -1 without.
CREATE TABLE item_tells (
  key TEXT NOT NULL,
  start_seconds REAL NOT NULL,
  item INTEGER NOT NULL,
  PRIMARY KEY (key, start_seconds, item)
) STRICT, WITHOUT ROWID;
CREATE TRIGGER item_tells_insert AFTER INSERT ON items WHEN NEW.tells IS NOT NULL BEGIN
  INSERT OR IGNORE INTO item_tells SELECT value, coalesce(NEW.start_seconds, -1), NEW.rowid FROM json_each(NEW.tells);
END;
CREATE TRIGGER item_tells_update AFTER UPDATE OF tells, start_seconds ON items WHEN OLD.tells IS NOT NEW.tells OR OLD.start_seconds IS NOT NEW.start_seconds BEGIN
  DELETE FROM item_tells WHERE item = OLD.rowid AND start_seconds = coalesce(OLD.start_seconds, -1) AND key IN (SELECT value FROM json_each(coalesce(OLD.tells, '[]')));
  INSERT OR IGNORE INTO item_tells SELECT value, coalesce(NEW.start_seconds, -1), NEW.rowid FROM json_each(coalesce(NEW.tells, '[]'));
END;
CREATE TRIGGER item_tells_delete AFTER DELETE ON items WHEN OLD.tells IS NOT NULL BEGIN
  DELETE FROM item_tells WHERE item = OLD.rowid AND start_seconds = coalesce(OLD.start_seconds, -1) AND key IN (SELECT value FROM json_each(OLD.tells));
END;

-- What has a timecode, by when it begins: for timelines that tell nothing else.
CREATE INDEX items_by_start ON items (start_seconds) WHERE start_seconds IS NOT NULL AND gone_at IS NULL;

-- Filled in when the catalogue is opened (fill-columns.ts).
DROP INDEX items_unfilled;
CREATE INDEX items_unfilled ON items (id) WHERE tells IS NULL;
