-- How renditions were made here, and the marks of each project's read order.

ALTER TABLE renditions ADD COLUMN made TEXT;
