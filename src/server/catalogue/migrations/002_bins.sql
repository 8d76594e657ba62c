-- Bins that stand on their own, what people say of clips, clips of several items, and edits that can be taken back.

CREATE TABLE bins (
  project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
  path TEXT NOT NULL,
  colour TEXT NOT NULL DEFAULT '',
  note TEXT NOT NULL DEFAULT '',
  PRIMARY KEY (project_id, path)
) STRICT, WITHOUT ROWID;

INSERT INTO bins (project_id, path) SELECT DISTINCT project_id, bin_path FROM clips WHERE bin_path <> '';

ALTER TABLE clips ADD COLUMN note TEXT NOT NULL DEFAULT '';
ALTER TABLE clips ADD COLUMN colour TEXT NOT NULL DEFAULT '';
ALTER TABLE clips ADD COLUMN marks TEXT;
ALTER TABLE clips ADD COLUMN conform TEXT NOT NULL DEFAULT 'by-time' CHECK (conform IN ('by-time', 'by-frame'));
ALTER TABLE clips ADD COLUMN made_by TEXT NOT NULL DEFAULT 'timeline' CHECK (made_by IN ('timeline', 'list', 'hand'));

-- Which item of the clip the event names; null where the kind of its track decides.
ALTER TABLE timeline_events ADD COLUMN link_position INTEGER;

CREATE INDEX links_by_place ON links (shelf_id, path);

CREATE TABLE edits (
  id INTEGER PRIMARY KEY,
  project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
  title TEXT NOT NULL,
  made_at TEXT NOT NULL,
  -- The change that takes it back; when it is undone, the one that does it again.
  change TEXT NOT NULL,
  undone INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX edits_by_project ON edits (project_id, id);
