-- Every change of a scheme counts up: who began from an older one is asked before it is replaced.
ALTER TABLE schemes ADD COLUMN revision INTEGER NOT NULL DEFAULT 1;
