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
