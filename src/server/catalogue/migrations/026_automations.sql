-- What begins by itself, with settings of its own: what a screen remembers drives nothing.
CREATE TABLE automations (
  project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
  name TEXT NOT NULL,
  is_on INTEGER NOT NULL,
  -- As the kind of plan has them, as JSON.
  settings TEXT NOT NULL,
  actor TEXT NOT NULL,
  PRIMARY KEY (project_id, name)
) STRICT, WITHOUT ROWID;
CREATE TRIGGER stamp_automations_insert AFTER INSERT ON automations BEGIN INSERT INTO stamps VALUES ('words ' || NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_automations_update AFTER UPDATE ON automations BEGIN INSERT INTO stamps VALUES ('words ' || NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
INSERT INTO automations (project_id, name, is_on, settings, actor)
  SELECT w.project_id, 'proxies-after-stocktake', json_extract(w.value, '$.wished') = 1, coalesce((SELECT value FROM remembered s WHERE s.project_id = w.project_id AND s.name = 'proxies'), '{}'), 'this machine'
  FROM remembered w WHERE w.name = 'proxies-after-stocktake' AND json_extract(w.value, '$.wished') IS NOT NULL;
DELETE FROM remembered WHERE name = 'proxies-after-stocktake';
