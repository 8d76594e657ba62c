-- Long texts that runs write, apart from their steps: each once, packed (gzip, RFC 1952).

CREATE TABLE run_texts (
  run_id INTEGER NOT NULL REFERENCES runs (id) ON DELETE CASCADE,
  sha256 TEXT NOT NULL,
  packed BLOB NOT NULL,
  PRIMARY KEY (run_id, sha256)
) STRICT;
