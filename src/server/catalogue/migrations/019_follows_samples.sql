-- A timeline that took the place of another: who knew that one finds it. `run_id`: the run that did it; null where no run did.
CREATE TABLE timeline_follows (
  former_id TEXT PRIMARY KEY,
  timeline_id TEXT NOT NULL REFERENCES timelines (id) ON DELETE CASCADE,
  run_id INTEGER
);
CREATE INDEX timeline_follows_by_timeline ON timeline_follows (timeline_id);

-- What a short piece of a source took in one preset, size and quality.
CREATE TABLE samples (
  fingerprint TEXT NOT NULL,
  preset TEXT NOT NULL,
  width INTEGER NOT NULL,
  height INTEGER NOT NULL,
  quality INTEGER NOT NULL,
  bytes_per_pixel REAL NOT NULL,
  seconds_per_pixel REAL NOT NULL,
  PRIMARY KEY (fingerprint, preset, width, height, quality)
) STRICT;
CREATE TRIGGER stamp_samples_insert AFTER INSERT ON samples BEGIN INSERT INTO stamps VALUES ('samples', 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
