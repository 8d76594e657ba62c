-- The stock is asked by question: what items are listed, filtered, sorted and found by stands in columns beside the facts.
-- Those of rows that were there before are filled in when the catalogue is opened (fill-columns.ts).

-- Null until filled: file name without regard to case and composition.
ALTER TABLE items ADD COLUMN name_key TEXT;
-- The path with composed letters, and the folder it lies in.
ALTER TABLE items ADD COLUMN path_key TEXT;
ALTER TABLE items ADD COLUMN folder TEXT;
ALTER TABLE items ADD COLUMN sort_path TEXT;
ALTER TABLE items ADD COLUMN kind TEXT;
ALTER TABLE items ADD COLUMN codec TEXT;
ALTER TABLE items ADD COLUMN container TEXT;
ALTER TABLE items ADD COLUMN width INTEGER;
ALTER TABLE items ADD COLUMN fps REAL;
ALTER TABLE items ADD COLUMN frames INTEGER;
ALTER TABLE items ADD COLUMN seconds REAL;
ALTER TABLE items ADD COLUMN start_frame INTEGER;
ALTER TABLE items ADD COLUMN start_seconds REAL;
ALTER TABLE items ADD COLUMN reel_key TEXT;
ALTER TABLE items ADD COLUMN channels INTEGER;
ALTER TABLE items ADD COLUMN depth INTEGER;
ALTER TABLE items ADD COLUMN alpha INTEGER;
ALTER TABLE items ADD COLUMN material_id TEXT;
-- What the filter box looks through.
ALTER TABLE items ADD COLUMN words TEXT NOT NULL DEFAULT '';

-- Checksum of every byte, and when it was read: where a run read the file whole since it was last written.
ALTER TABLE items ADD COLUMN sha256 TEXT;
ALTER TABLE items ADD COLUMN sha256_at TEXT;

-- Since when this content is known to stand there; and of what is gone, when it was seen last: two that stood there at one
-- time are two files, one that came when the other had gone may be it, moved.
ALTER TABLE items ADD COLUMN known_at TEXT;
ALTER TABLE items ADD COLUMN seen_at TEXT;

CREATE INDEX items_unfilled ON items (id) WHERE name_key IS NULL;
CREATE INDEX items_by_name ON items (name_key, size_bytes);
CREATE INDEX items_by_name_length ON items (name_key, frames);
CREATE INDEX items_by_reel ON items (reel_key, start_seconds) WHERE reel_key IS NOT NULL;
-- Picture without sound and sound of one recording find each other.
CREATE INDEX items_sound_by_reel ON items (reel_key, start_seconds) WHERE kind = 'audio';
CREATE INDEX items_silent_by_reel ON items (reel_key, start_seconds) WHERE kind = 'video' AND channels = 0;
CREATE INDEX items_by_material ON items (material_id) WHERE material_id IS NOT NULL;
CREATE INDEX items_by_path_key ON items (shelf_id, path_key);
CREATE INDEX items_by_sort_path ON items (shelf_id, sort_path, path) WHERE gone_at IS NULL;
CREATE INDEX items_sequences ON items (shelf_id, folder) WHERE kind = 'sequence';
-- The filter box looks through the words of one shelf, in the index alone.
CREATE INDEX items_by_words ON items (shelf_id, words) WHERE gone_at IS NULL;
-- How many items and bytes stand on each shelf, from the index alone.
CREATE INDEX items_standing ON items (shelf_id, size_bytes) WHERE gone_at IS NULL;

-- What lists tell of a timeline without reading its document; null until filled.
ALTER TABLE timelines ADD COLUMN head TEXT;
ALTER TABLE timelines ADD COLUMN bytes INTEGER NOT NULL DEFAULT 0;
UPDATE timelines SET bytes = length(CAST(document AS BLOB));
CREATE INDEX timelines_unfilled ON timelines (id) WHERE head IS NULL;

-- What of its clip an event reads: 1 its sound, 0 its picture; null where nothing of it is shown.
ALTER TABLE timeline_events ADD COLUMN sound INTEGER;

-- How many clips a crate was made for, and which of them it lacks; null for one of an earlier version.
ALTER TABLE crates ADD COLUMN clips INTEGER;
ALTER TABLE crates ADD COLUMN lacks TEXT;

-- What the state of a link goes by.
ALTER TABLE links ADD COLUMN name TEXT GENERATED ALWAYS AS (json_extract(expected, '$.name')) VIRTUAL;
ALTER TABLE links ADD COLUMN fingerprint TEXT;
ALTER TABLE links ADD COLUMN size_bytes INTEGER;
ALTER TABLE links ADD COLUMN kind TEXT;
UPDATE links SET fingerprint = json_extract(expected, '$.fingerprint'), size_bytes = json_extract(expected, '$.sizeBytes'),
  kind = json_extract(expected, '$.kind');

-- Sums over all that a timeline reads: there while they hold. What could make others of them takes them away.
CREATE TABLE timeline_figures (
  timeline_id TEXT PRIMARY KEY REFERENCES timelines (id) ON DELETE CASCADE,
  clips INTEGER NOT NULL,
  media_seconds REAL NOT NULL,
  used_seconds REAL NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TRIGGER figures_clips AFTER UPDATE OF media_start, conform ON clips
WHEN OLD.media_start IS NOT NEW.media_start OR OLD.conform <> NEW.conform BEGIN
  DELETE FROM timeline_figures WHERE timeline_id IN (SELECT timeline_id FROM timeline_events WHERE clip_id = NEW.id);
END;
CREATE TRIGGER figures_events AFTER DELETE ON timeline_events BEGIN
  DELETE FROM timeline_figures WHERE timeline_id = OLD.timeline_id;
END;
CREATE TRIGGER figures_renditions AFTER INSERT ON renditions BEGIN
  DELETE FROM timeline_figures WHERE timeline_id IN (SELECT timeline_id FROM timeline_events WHERE clip_id = NEW.clip_id);
END;
CREATE TRIGGER figures_renditions_gone AFTER DELETE ON renditions BEGIN
  DELETE FROM timeline_figures WHERE timeline_id IN (SELECT timeline_id FROM timeline_events WHERE clip_id = OLD.clip_id);
END;
CREATE TRIGGER figures_links AFTER INSERT ON links BEGIN
  DELETE FROM timeline_figures WHERE timeline_id IN (SELECT e.timeline_id FROM renditions r JOIN timeline_events e ON e.clip_id = r.clip_id WHERE r.id = NEW.rendition_id);
END;
CREATE TRIGGER figures_links_changed AFTER UPDATE ON links BEGIN
  DELETE FROM timeline_figures WHERE timeline_id IN (SELECT e.timeline_id FROM renditions r JOIN timeline_events e ON e.clip_id = r.clip_id WHERE r.id = NEW.rendition_id);
END;
CREATE TRIGGER figures_links_gone AFTER DELETE ON links BEGIN
  DELETE FROM timeline_figures WHERE timeline_id IN (SELECT e.timeline_id FROM renditions r JOIN timeline_events e ON e.clip_id = r.clip_id WHERE r.id = OLD.rendition_id);
END;
CREATE TRIGGER figures_items AFTER INSERT ON items BEGIN
  DELETE FROM timeline_figures WHERE timeline_id IN (
    SELECT e.timeline_id FROM links l JOIN renditions r ON r.id = l.rendition_id JOIN timeline_events e ON e.clip_id = r.clip_id
    WHERE l.shelf_id = NEW.shelf_id AND l.path = NEW.path);
END;
CREATE TRIGGER figures_items_changed AFTER UPDATE OF facts, gone_at ON items
WHEN OLD.facts <> NEW.facts OR OLD.gone_at IS NOT NEW.gone_at BEGIN
  DELETE FROM timeline_figures WHERE timeline_id IN (
    SELECT e.timeline_id FROM links l JOIN renditions r ON r.id = l.rendition_id JOIN timeline_events e ON e.clip_id = r.clip_id
    WHERE l.shelf_id = NEW.shelf_id AND l.path = NEW.path);
END;
CREATE TRIGGER figures_items_gone AFTER DELETE ON items BEGIN
  DELETE FROM timeline_figures WHERE timeline_id IN (
    SELECT e.timeline_id FROM links l JOIN renditions r ON r.id = l.rendition_id JOIN timeline_events e ON e.clip_id = r.clip_id
    WHERE l.shelf_id = OLD.shelf_id AND l.path = OLD.path);
END;
CREATE TRIGGER figures_shelves AFTER UPDATE OF retired_at ON shelves WHEN OLD.retired_at IS NOT NEW.retired_at BEGIN
  DELETE FROM timeline_figures;
END;
