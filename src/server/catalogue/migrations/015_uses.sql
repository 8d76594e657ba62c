-- How often each clip is read, and how, is counted in the index alone: a million events need not be read for it.

DROP INDEX timeline_events_by_clip;
CREATE INDEX timeline_events_by_clip ON timeline_events (clip_id, sound, link_position);

-- Shelves that clips of a project link or once linked: what stands there may change what is told of the project.
CREATE TABLE linked_shelves (
  project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
  shelf_id TEXT NOT NULL,
  PRIMARY KEY (project_id, shelf_id)
) STRICT, WITHOUT ROWID;
INSERT INTO linked_shelves
  SELECT DISTINCT c.project_id, l.shelf_id FROM clips c JOIN renditions r ON r.clip_id = c.id JOIN links l ON l.rendition_id = r.id
  WHERE l.shelf_id IS NOT NULL;
CREATE TRIGGER linked_shelves_insert AFTER INSERT ON links WHEN NEW.shelf_id IS NOT NULL BEGIN
  INSERT INTO linked_shelves SELECT c.project_id, NEW.shelf_id FROM renditions r JOIN clips c ON c.id = r.clip_id WHERE r.id = NEW.rendition_id
    ON CONFLICT DO NOTHING;
END;
CREATE TRIGGER linked_shelves_update AFTER UPDATE OF shelf_id ON links WHEN NEW.shelf_id IS NOT NULL BEGIN
  INSERT INTO linked_shelves SELECT c.project_id, NEW.shelf_id FROM renditions r JOIN clips c ON c.id = r.clip_id WHERE r.id = NEW.rendition_id
    ON CONFLICT DO NOTHING;
END;
