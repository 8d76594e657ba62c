-- What the application knows. Places are a shelf and a path below its root; no absolute path is kept here.

CREATE TABLE projects (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  rate_num INTEGER NOT NULL,
  rate_den INTEGER NOT NULL,
  drop_frame INTEGER NOT NULL,
  created_at TEXT NOT NULL,
  used_at TEXT NOT NULL
) STRICT;

CREATE TABLE shelves (
  id TEXT PRIMARY KEY,
  name TEXT NOT NULL,
  registered_at TEXT NOT NULL,
  seen_at TEXT,
  stocktake_at TEXT,
  capacity_bytes INTEGER NOT NULL DEFAULT 0,
  free_bytes INTEGER NOT NULL DEFAULT 0
) STRICT;

CREATE TABLE items (
  id TEXT PRIMARY KEY,
  shelf_id TEXT NOT NULL REFERENCES shelves (id) ON DELETE CASCADE,
  path TEXT NOT NULL,
  size_bytes INTEGER NOT NULL,
  modified_ms INTEGER NOT NULL,
  fingerprint TEXT,
  facts TEXT NOT NULL,
  problem TEXT,
  gone_at TEXT,
  UNIQUE (shelf_id, path)
) STRICT;

CREATE TABLE clips (
  id TEXT PRIMARY KEY,
  project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  bin_path TEXT NOT NULL,
  media_key TEXT NOT NULL,
  media_start TEXT,
  set_aside INTEGER NOT NULL DEFAULT 0,
  UNIQUE (project_id, media_key)
) STRICT;

CREATE TABLE renditions (
  id TEXT PRIMARY KEY,
  clip_id TEXT NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK (kind IN ('source', 'mezzanine', 'proxy', 'finished'))
) STRICT;
CREATE INDEX renditions_by_clip ON renditions (clip_id);

CREATE TABLE links (
  rendition_id TEXT NOT NULL REFERENCES renditions (id) ON DELETE CASCADE,
  position INTEGER NOT NULL,
  shelf_id TEXT REFERENCES shelves (id) ON DELETE SET NULL,
  path TEXT,
  url TEXT NOT NULL,
  expected TEXT NOT NULL,
  PRIMARY KEY (rendition_id, position)
) STRICT;

CREATE TABLE timelines (
  id TEXT PRIMARY KEY,
  project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  format TEXT NOT NULL,
  source_name TEXT NOT NULL,
  brought_in_at TEXT NOT NULL,
  document TEXT NOT NULL,
  findings TEXT NOT NULL
) STRICT;
CREATE INDEX timelines_by_project ON timelines (project_id);

CREATE TABLE timeline_events (
  timeline_id TEXT NOT NULL REFERENCES timelines (id) ON DELETE CASCADE,
  event_index INTEGER NOT NULL,
  clip_id TEXT NOT NULL REFERENCES clips (id) ON DELETE CASCADE,
  PRIMARY KEY (timeline_id, event_index)
) STRICT, WITHOUT ROWID;
CREATE INDEX timeline_events_by_clip ON timeline_events (clip_id);

CREATE TABLE runs (
  id INTEGER PRIMARY KEY,
  project_id TEXT REFERENCES projects (id) ON DELETE SET NULL,
  kind TEXT NOT NULL,
  title TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('queued', 'running', 'paused', 'done', 'failed', 'cancelled')),
  plan TEXT NOT NULL,
  created_at TEXT NOT NULL,
  ended_at TEXT,
  undone_by INTEGER REFERENCES runs (id)
) STRICT;

CREATE TABLE run_steps (
  run_id INTEGER NOT NULL REFERENCES runs (id) ON DELETE CASCADE,
  ordinal INTEGER NOT NULL,
  step TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'doing', 'publishing', 'done', 'failed', 'skipped', 'cancelled')),
  outcome TEXT,
  message TEXT,
  started_at TEXT,
  ended_at TEXT,
  PRIMARY KEY (run_id, ordinal)
) STRICT, WITHOUT ROWID;

CREATE TABLE crates (
  id TEXT PRIMARY KEY,
  project_id TEXT REFERENCES projects (id) ON DELETE SET NULL,
  run_id INTEGER REFERENCES runs (id),
  name TEXT NOT NULL,
  shelf_id TEXT NOT NULL,
  path TEXT NOT NULL,
  files INTEGER NOT NULL,
  bytes INTEGER NOT NULL,
  made_at TEXT NOT NULL
) STRICT;

-- Settings of a stage as the user left them.
CREATE TABLE remembered (
  project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  value TEXT NOT NULL,
  PRIMARY KEY (project_id, name)
) STRICT, WITHOUT ROWID;
