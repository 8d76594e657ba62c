-- A clip is a source, its files are copies: files are copies of each other where every byte is known to be equal.

-- Of a sequence that a run copied frame by frame: its numbers and the checksums of all its frames.
ALTER TABLE items ADD COLUMN frames_sum TEXT;
-- The same text for the same bytes; null where not every byte was ever read. An empty file is a copy of nothing.
ALTER TABLE items ADD COLUMN content TEXT GENERATED ALWAYS AS (
  CASE WHEN size_bytes = 0 THEN NULL
    WHEN fingerprint GLOB '2:*:all' OR fingerprint GLOB 'frames2:*:all' THEN fingerprint
    ELSE coalesce(frames_sum, sha256) END) VIRTUAL;
CREATE INDEX items_by_content ON items (content) WHERE content IS NOT NULL;

-- What a clip links, by its content; kept when the file goes.
ALTER TABLE links ADD COLUMN content TEXT;
CREATE INDEX links_by_content ON links (content) WHERE content IS NOT NULL;
-- Read where it is linked, before any other copy.
ALTER TABLE links ADD COLUMN chosen INTEGER NOT NULL DEFAULT 0;
UPDATE links SET content = CASE WHEN fingerprint GLOB '2:*:all' OR fingerprint GLOB 'frames2:*:all' THEN fingerprint
  ELSE coalesce(json_extract(expected, '$.sha256'),
    (SELECT i.content FROM items i WHERE i.shelf_id = links.shelf_id AND i.path = links.path AND i.fingerprint = links.fingerprint)) END
  WHERE size_bytes IS NOT 0;

-- A part of a source (pulled, trimmed): which frames it holds of which of its items, as JSON; null for what is whole.
ALTER TABLE renditions ADD COLUMN part TEXT;

-- What a source is known by in every house: it goes along with timelines.
ALTER TABLE clips ADD COLUMN source_id TEXT;
UPDATE clips SET source_id = id;
CREATE INDEX clips_by_source ON clips (project_id, source_id);

-- Grows when clips of the project become one: what is known of its events is another then.
ALTER TABLE projects ADD COLUMN joined INTEGER NOT NULL DEFAULT 0;

-- SHA-256 of the document as it came, where what is kept counts its sources otherwise.
ALTER TABLE timelines ADD COLUMN came_as TEXT;

-- Drives that the project reads before others, in order: a list of shelf ids.
ALTER TABLE projects ADD COLUMN drives TEXT;

CREATE TRIGGER links_content_insert AFTER INSERT ON links BEGIN
  UPDATE links SET content = CASE WHEN NEW.size_bytes IS 0 THEN NULL
    WHEN NEW.fingerprint GLOB '2:*:all' OR NEW.fingerprint GLOB 'frames2:*:all' THEN NEW.fingerprint
    ELSE coalesce(json_extract(NEW.expected, '$.sha256'),
      (SELECT i.content FROM items i WHERE i.shelf_id = NEW.shelf_id AND i.path = NEW.path AND i.fingerprint = NEW.fingerprint)) END
  WHERE rendition_id = NEW.rendition_id AND position = NEW.position;
END;
CREATE TRIGGER links_content_update AFTER UPDATE OF shelf_id, path, fingerprint, expected ON links
WHEN OLD.shelf_id IS NOT NEW.shelf_id OR OLD.path IS NOT NEW.path OR OLD.fingerprint IS NOT NEW.fingerprint OR OLD.expected IS NOT NEW.expected BEGIN
  UPDATE links SET content = CASE WHEN NEW.size_bytes IS 0 THEN NULL
    WHEN NEW.fingerprint GLOB '2:*:all' OR NEW.fingerprint GLOB 'frames2:*:all' THEN NEW.fingerprint
    ELSE coalesce(json_extract(NEW.expected, '$.sha256'),
      (SELECT i.content FROM items i WHERE i.shelf_id = NEW.shelf_id AND i.path = NEW.path AND i.fingerprint = NEW.fingerprint)) END
  WHERE rendition_id = NEW.rendition_id AND position = NEW.position;
END;

-- What becomes known of a file later is known of the links that read it.
CREATE TRIGGER items_content_insert AFTER INSERT ON items WHEN NEW.content IS NOT NULL BEGIN
  UPDATE links SET content = NEW.content WHERE shelf_id = NEW.shelf_id AND path = NEW.path AND fingerprint = NEW.fingerprint AND content IS NULL;
  INSERT INTO linked_shelves SELECT c.project_id, NEW.shelf_id FROM links l JOIN renditions r ON r.id = l.rendition_id JOIN clips c ON c.id = r.clip_id
    WHERE l.content = NEW.content ON CONFLICT DO NOTHING;
END;
CREATE TRIGGER items_content_update AFTER UPDATE OF sha256, frames_sum, fingerprint, size_bytes, shelf_id, path, gone_at ON items
WHEN NEW.content IS NOT NULL AND (OLD.content IS NOT NEW.content OR OLD.shelf_id <> NEW.shelf_id OR OLD.path <> NEW.path) BEGIN
  UPDATE links SET content = NEW.content WHERE shelf_id = NEW.shelf_id AND path = NEW.path AND fingerprint = NEW.fingerprint AND content IS NULL;
  INSERT INTO linked_shelves SELECT c.project_id, NEW.shelf_id FROM links l JOIN renditions r ON r.id = l.rendition_id JOIN clips c ON c.id = r.clip_id
    WHERE l.content = NEW.content ON CONFLICT DO NOTHING;
END;
CREATE TRIGGER stamp_items_content AFTER UPDATE OF sha256, frames_sum ON items WHEN OLD.content IS NOT NEW.content BEGIN
  INSERT INTO stamps VALUES (NEW.shelf_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1;
END;
CREATE TRIGGER linked_shelves_content AFTER UPDATE OF content ON links WHEN NEW.content IS NOT NULL AND OLD.content IS NOT NEW.content BEGIN
  INSERT INTO linked_shelves SELECT c.project_id, i.shelf_id FROM items i, renditions r JOIN clips c ON c.id = r.clip_id
    WHERE i.content = NEW.content AND r.id = NEW.rendition_id ON CONFLICT DO NOTHING;
END;
INSERT OR IGNORE INTO linked_shelves
  SELECT DISTINCT c.project_id, i.shelf_id FROM links l JOIN items i ON i.content = l.content JOIN renditions r ON r.id = l.rendition_id JOIN clips c ON c.id = r.clip_id;
CREATE TRIGGER stamp_projects_drives AFTER UPDATE OF drives ON projects BEGIN
  INSERT INTO stamps VALUES (NEW.id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1;
END;
