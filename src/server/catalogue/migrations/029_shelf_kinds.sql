-- What kind of storage a shelf is, which sets what plans may do there; and what people note of it, as JSON.
ALTER TABLE shelves ADD COLUMN kind TEXT NOT NULL DEFAULT 'working';
ALTER TABLE shelves ADD COLUMN record TEXT NOT NULL DEFAULT '{}';
CREATE TRIGGER stamp_shelves_kind AFTER UPDATE OF kind, record ON shelves BEGIN INSERT INTO stamps VALUES ('house', 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
