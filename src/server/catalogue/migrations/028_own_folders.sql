-- The folder that files of a project are sorted into, and folders that are watched: what a screen remembers drives nothing.
ALTER TABLE projects ADD COLUMN own_folder TEXT;
CREATE TRIGGER stamp_projects_own_folder AFTER UPDATE OF own_folder ON projects BEGIN
  INSERT INTO stamps VALUES (NEW.id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1;
END;
-- As the Sort stage was set up; where the name of its folder is put together otherwise, the next sort says which it is.
UPDATE projects SET own_folder = (
  SELECT json_object('shelfId', s.shelf, 'path', CASE s.path WHEN '' THEN s.root ELSE s.path || '/' || s.root END) FROM (
    SELECT json_extract(value, '$.destination.shelfId') AS shelf, json_extract(value, '$.destination.path') AS path,
      replace(coalesce(json_extract(value, '$.rootName'), '{project}'), '{project}', projects.name) AS root
    FROM remembered WHERE project_id = projects.id AND name = 'sort') s
  WHERE s.shelf IS NOT NULL AND s.root <> '' AND s.root NOT GLOB '*[{}<>:"|?*\\]*' AND trim(s.root, ' .') = s.root);
INSERT INTO automations (project_id, name, is_on, settings, actor)
  SELECT project_id, 'watched-folders', 1, json_object('folders', json_extract(value, '$.watched')), 'this machine'
  FROM remembered WHERE name = 'sort' AND json_array_length(value, '$.watched') > 0;
UPDATE remembered SET value = json_remove(value, '$.watched') WHERE name = 'sort';
