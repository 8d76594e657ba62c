-- Where the renditions of a project are at home, by kind; NULL: nowhere yet.

ALTER TABLE projects ADD COLUMN homes TEXT;

CREATE TRIGGER stamp_projects_homes AFTER UPDATE OF homes ON projects BEGIN
  INSERT INTO stamps VALUES (NEW.id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1;
END;
