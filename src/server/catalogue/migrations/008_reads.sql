-- What a timeline reads of its clips, made once of its document; see catalogue/timeline-reads.ts. Not there until filled,
-- and never for one that cannot be read.
CREATE TABLE timeline_reads (
  timeline_id TEXT PRIMARY KEY REFERENCES timelines (id) ON DELETE CASCADE,
  reads BLOB NOT NULL,
  -- Names of its events, a list in JSON: most questions do not ask for them.
  names TEXT NOT NULL
) STRICT, WITHOUT ROWID;
-- One that is brought in again is found by its length.
CREATE INDEX timelines_by_bytes ON timelines (project_id, bytes);

-- A document may take megabytes; what stands behind it in a row was found only by going through all of it.
CREATE TABLE timeline_documents (
  timeline_id TEXT PRIMARY KEY REFERENCES timelines (id) ON DELETE CASCADE,
  document TEXT NOT NULL
) STRICT;
INSERT INTO timeline_documents (timeline_id, document) SELECT id, document FROM timelines;
ALTER TABLE timelines DROP COLUMN document;
