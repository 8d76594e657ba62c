-- What runs need to tell their own work from anything else, and the stock to tell the same file from another.

-- A shelf taken off the list keeps its items and the links to them; the same identity gets them back.
ALTER TABLE shelves ADD COLUMN retired_at TEXT;

-- Size, times to the nanosecond and inode, as JSON; null until the next stocktake.
ALTER TABLE items ADD COLUMN identity TEXT;
-- Facts read by an earlier version are read again at the next stocktake.
ALTER TABLE items ADD COLUMN facts_version INTEGER NOT NULL DEFAULT 0;

-- Identity of every frame of a sequence, in order, as a JSON list.
CREATE TABLE frames (
  item_id TEXT PRIMARY KEY REFERENCES items (id) ON DELETE CASCADE,
  identities TEXT NOT NULL
) STRICT, WITHOUT ROWID;

-- The undo of this run, from the moment it is submitted.
ALTER TABLE runs ADD COLUMN undoing_by INTEGER REFERENCES runs (id);
ALTER TABLE runs ADD COLUMN digest TEXT;

-- What the step may have left under a final name: kept until it is known what became of it.
ALTER TABLE run_steps ADD COLUMN pending TEXT;

-- Frames that a step made, entered before each gets its final name.
CREATE TABLE run_frames (
  run_id INTEGER NOT NULL REFERENCES runs (id) ON DELETE CASCADE,
  ordinal INTEGER NOT NULL,
  name TEXT NOT NULL,
  bytes INTEGER NOT NULL,
  sha256 TEXT NOT NULL,
  identity TEXT NOT NULL,
  PRIMARY KEY (run_id, ordinal, name)
) STRICT, WITHOUT ROWID;

-- Folders that a run made: only these go when it is undone.
CREATE TABLE run_folders (
  run_id INTEGER NOT NULL REFERENCES runs (id) ON DELETE CASCADE,
  shelf_id TEXT NOT NULL,
  path TEXT NOT NULL,
  PRIMARY KEY (run_id, shelf_id, path)
) STRICT, WITHOUT ROWID;

-- Work of the user's on a clip keeps it when its timeline goes.
ALTER TABLE clips ADD COLUMN touched INTEGER NOT NULL DEFAULT 0;
UPDATE clips SET touched = 1 WHERE note <> '' OR colour <> '' OR set_aside = 1;

-- Tells half-made files of this catalogue from those of another on the same shelf.
CREATE TABLE house (
  id TEXT NOT NULL
) STRICT;
INSERT INTO house (id) VALUES (lower(hex(randomblob(4))));

CREATE INDEX items_by_fingerprint ON items (fingerprint);
