-- With which run a rendition came, so that those that came together are told apart from others; and whether an earlier one was gone back to.

ALTER TABLE renditions ADD COLUMN came_by INTEGER;
ALTER TABLE renditions ADD COLUMN set_back INTEGER NOT NULL DEFAULT 0;

-- Made here: their ids say with which run they came.
UPDATE renditions SET came_by = CAST(substr(id, 6) AS INTEGER) WHERE id LIKE 'made-%';
