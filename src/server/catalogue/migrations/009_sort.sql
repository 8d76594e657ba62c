-- Files get other places and names; what they came with stays known. Schemes of standard folders.

ALTER TABLE items ADD COLUMN original_name TEXT;

CREATE TRIGGER stamp_items_moved_from AFTER UPDATE OF shelf_id, path, original_name ON items BEGIN INSERT INTO stamps VALUES (OLD.shelf_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_items_moved_to AFTER UPDATE OF shelf_id ON items BEGIN INSERT INTO stamps VALUES (NEW.shelf_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;

CREATE TABLE schemes (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  document TEXT NOT NULL,
  changed_at TEXT NOT NULL
) STRICT, WITHOUT ROWID;
