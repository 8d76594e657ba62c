-- On whose word runs, edits and receipts are: what stood before names came is this machine's.
ALTER TABLE runs ADD COLUMN actor TEXT NOT NULL DEFAULT 'this machine';
ALTER TABLE edits ADD COLUMN actor TEXT NOT NULL DEFAULT 'this machine';
