-- Which rendition stands for a clip, by project; NULL for the order at first. What is told of the project is told anew when it changes.

ALTER TABLE projects ADD COLUMN read_order TEXT;

CREATE TRIGGER stamp_projects_read_order AFTER UPDATE OF read_order ON projects BEGIN
  INSERT INTO stamps VALUES (NEW.id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1;
END;
