-- What brings the house down is known afterwards, and what runs tell is counted, not read.

-- Whether the run was going when the process last said anything of it, and how often that ended in the middle.
ALTER TABLE runs ADD COLUMN going INTEGER NOT NULL DEFAULT 0;
ALTER TABLE runs ADD COLUMN crashes INTEGER NOT NULL DEFAULT 0;

ALTER TABLE run_steps ADD COLUMN expected_bytes INTEGER GENERATED ALWAYS AS (json_extract(step, '$.expectedBytes')) VIRTUAL;
ALTER TABLE run_steps ADD COLUMN done_bytes INTEGER GENERATED ALWAYS AS (json_extract(outcome, '$.bytes')) VIRTUAL;
CREATE INDEX run_steps_counted ON run_steps (run_id, state, expected_bytes, done_bytes);
