-- What was made is remembered: a crate that is undone or in doubt is marked, never deleted, and outlives its project.
ALTER TABLE crates RENAME TO made_crates;
ALTER TABLE made_crates ADD COLUMN project_name TEXT;
UPDATE made_crates SET project_name = (SELECT name FROM projects WHERE projects.id = made_crates.project_id);
-- Since when it counts as taken back, because it was undone or because what it was made of is in doubt; null while it stands.
ALTER TABLE made_crates ADD COLUMN taken_back_at TEXT;

-- Crates that count.
CREATE VIEW crates AS SELECT * FROM made_crates WHERE taken_back_at IS NULL;

-- What became of each, one line after the other: made, checked, doubted, retracted, undone, locked, unlocked, accepted, returned.
CREATE TABLE crate_marks (
  id INTEGER PRIMARY KEY,
  crate_id TEXT NOT NULL REFERENCES made_crates (id),
  at TEXT NOT NULL,
  mark TEXT NOT NULL,
  words TEXT,
  actor TEXT NOT NULL
) STRICT;
CREATE INDEX crate_marks_by_crate ON crate_marks (crate_id, id);
INSERT INTO crate_marks (crate_id, at, mark, actor) SELECT id, made_at, 'made', 'this machine' FROM made_crates;
INSERT INTO crate_marks (crate_id, at, mark, words, actor) SELECT id, coalesce(checked_at, made_at), 'doubted', found, 'this machine' FROM made_crates WHERE found IS NOT NULL;
INSERT INTO crate_marks (crate_id, at, mark, actor) SELECT id, accepted_at, 'accepted', 'this machine' FROM made_crates WHERE accepted_at IS NOT NULL;

-- Timelines and clips that it carries, as they were called; of clips the content, and the frames that were used, half-open.
CREATE TABLE crate_timelines (
  crate_id TEXT NOT NULL REFERENCES made_crates (id),
  ordinal INTEGER NOT NULL,
  timeline_id TEXT,
  name TEXT NOT NULL,
  PRIMARY KEY (crate_id, ordinal)
) STRICT, WITHOUT ROWID;
CREATE TABLE crate_clips (
  crate_id TEXT NOT NULL REFERENCES made_crates (id),
  ordinal INTEGER NOT NULL,
  clip_id TEXT,
  name TEXT NOT NULL,
  -- Where its source stood, and what it is told by: its fingerprint, and every byte of it where that is known.
  shelf_id TEXT NOT NULL,
  path TEXT NOT NULL,
  fingerprint TEXT,
  content TEXT,
  start_frame INTEGER,
  end_frame INTEGER,
  PRIMARY KEY (crate_id, ordinal)
) STRICT, WITHOUT ROWID;
-- Crates of earlier versions say their timelines in the report that their run wrote.
INSERT INTO crate_timelines (crate_id, ordinal, name)
  SELECT c.id, n.key, n.value FROM made_crates c JOIN run_steps s ON s.run_id = c.run_id AND json_extract(s.step, '$.content.what') = 'crate-report',
    json_each(s.step, '$.content.label.timelineNames') n;
