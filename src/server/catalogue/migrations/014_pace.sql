-- How fast this machine encodes, by preset: what was encoded, in pixels read and written, and the seconds it took. What is long ago counts less.

CREATE TABLE paces (preset TEXT PRIMARY KEY, pixels REAL NOT NULL, seconds REAL NOT NULL) STRICT;

-- Runs that go before others, or give way to them.

ALTER TABLE runs ADD COLUMN priority TEXT NOT NULL DEFAULT 'normal';
