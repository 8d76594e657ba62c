-- What is asked often is counted as it changes, and what changed is known by project and by shelf.

DROP TRIGGER stamp_projects_insert;
DROP TRIGGER stamp_projects_update;
DROP TRIGGER stamp_projects_delete;
DROP TRIGGER stamp_items_insert;
DROP TRIGGER stamp_items_update;
DROP TRIGGER stamp_items_delete;
DROP TRIGGER stamp_clips_insert;
DROP TRIGGER stamp_clips_update;
DROP TRIGGER stamp_clips_delete;
DROP TRIGGER stamp_renditions_insert;
DROP TRIGGER stamp_renditions_update;
DROP TRIGGER stamp_renditions_delete;
DROP TRIGGER stamp_links_insert;
DROP TRIGGER stamp_links_update;
DROP TRIGGER stamp_links_delete;
DROP TRIGGER stamp_timelines_insert;
DROP TRIGGER stamp_timelines_update;
DROP TRIGGER stamp_timelines_delete;
DROP TRIGGER stamp_timeline_events_insert;
DROP TRIGGER stamp_timeline_events_update;
DROP TRIGGER stamp_timeline_events_delete;
DROP TRIGGER stamp_crates_insert;
DROP TRIGGER stamp_crates_update;
DROP TRIGGER stamp_crates_delete;
DROP TRIGGER stamp_remembered_insert;
DROP TRIGGER stamp_remembered_update;
DROP TRIGGER stamp_remembered_delete;
DROP TRIGGER stamp_bins_insert;
DROP TRIGGER stamp_bins_update;
DROP TRIGGER stamp_bins_delete;
DROP TRIGGER stamp_edits_insert;
DROP TRIGGER stamp_edits_update;
DROP TRIGGER stamp_edits_delete;
DROP TRIGGER stamp_shelves_insert;
DROP TRIGGER stamp_shelves_update;
DROP TRIGGER stamp_shelves_delete;
DROP TABLE stamp;

-- A number that is another whenever something of its scope is: what was answered before still holds while it is the same.
-- Scopes: a shelf (the items on it); a project (clips, their links, timelines); `words <project>` (its name and settings, bins,
-- crates and edits); `house` (which projects and shelves there are). Journals of runs and the room on shelves are in none.
CREATE TABLE stamps (scope TEXT PRIMARY KEY, version INTEGER NOT NULL) STRICT, WITHOUT ROWID;

CREATE TRIGGER stamp_items_insert AFTER INSERT ON items BEGIN INSERT INTO stamps VALUES (NEW.shelf_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
-- Checksums that runs enter are not among it: no view is made of them.
CREATE TRIGGER stamp_items_update AFTER UPDATE OF size_bytes, modified_ms, fingerprint, facts, problem, gone_at, identity ON items BEGIN INSERT INTO stamps VALUES (NEW.shelf_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_items_delete AFTER DELETE ON items BEGIN INSERT INTO stamps VALUES (OLD.shelf_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_clips_insert AFTER INSERT ON clips BEGIN INSERT INTO stamps VALUES (NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_clips_update AFTER UPDATE ON clips BEGIN INSERT INTO stamps VALUES (NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_clips_delete AFTER DELETE ON clips BEGIN INSERT INTO stamps VALUES (OLD.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_timelines_insert AFTER INSERT ON timelines BEGIN INSERT INTO stamps VALUES (NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_timelines_update AFTER UPDATE ON timelines BEGIN INSERT INTO stamps VALUES (NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_timelines_delete AFTER DELETE ON timelines BEGIN INSERT INTO stamps VALUES (OLD.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_renditions_insert AFTER INSERT ON renditions BEGIN INSERT INTO stamps SELECT project_id, 1 FROM clips WHERE id = NEW.clip_id ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_links_insert AFTER INSERT ON links BEGIN INSERT INTO stamps SELECT c.project_id, 1 FROM renditions r JOIN clips c ON c.id = r.clip_id WHERE r.id = NEW.rendition_id ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_renditions_update AFTER UPDATE ON renditions BEGIN INSERT INTO stamps SELECT project_id, 1 FROM clips WHERE id = NEW.clip_id ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_links_update AFTER UPDATE ON links BEGIN INSERT INTO stamps SELECT c.project_id, 1 FROM renditions r JOIN clips c ON c.id = r.clip_id WHERE r.id = NEW.rendition_id ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_renditions_delete AFTER DELETE ON renditions BEGIN INSERT INTO stamps SELECT project_id, 1 FROM clips WHERE id = OLD.clip_id ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_links_delete AFTER DELETE ON links BEGIN INSERT INTO stamps SELECT c.project_id, 1 FROM renditions r JOIN clips c ON c.id = r.clip_id WHERE r.id = OLD.rendition_id ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_remembered_insert AFTER INSERT ON remembered BEGIN INSERT INTO stamps VALUES ('words ' || NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_remembered_update AFTER UPDATE ON remembered BEGIN INSERT INTO stamps VALUES ('words ' || NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_remembered_delete AFTER DELETE ON remembered BEGIN INSERT INTO stamps VALUES ('words ' || OLD.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_bins_insert AFTER INSERT ON bins BEGIN INSERT INTO stamps VALUES ('words ' || NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_bins_update AFTER UPDATE ON bins BEGIN INSERT INTO stamps VALUES ('words ' || NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_bins_delete AFTER DELETE ON bins BEGIN INSERT INTO stamps VALUES ('words ' || OLD.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_edits_insert AFTER INSERT ON edits BEGIN INSERT INTO stamps VALUES ('words ' || NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_edits_update AFTER UPDATE ON edits BEGIN INSERT INTO stamps VALUES ('words ' || NEW.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_edits_delete AFTER DELETE ON edits BEGIN INSERT INTO stamps VALUES ('words ' || OLD.project_id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_crates_insert AFTER INSERT ON crates BEGIN INSERT INTO stamps VALUES ('words ' || coalesce(NEW.project_id, ''), 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_crates_update AFTER UPDATE ON crates BEGIN INSERT INTO stamps VALUES ('words ' || coalesce(NEW.project_id, ''), 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_crates_delete AFTER DELETE ON crates BEGIN INSERT INTO stamps VALUES ('words ' || coalesce(OLD.project_id, ''), 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_crates_move AFTER UPDATE OF project_id ON crates BEGIN INSERT INTO stamps VALUES ('words ' || coalesce(OLD.project_id, ''), 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_projects_insert AFTER INSERT ON projects BEGIN INSERT INTO stamps VALUES ('house', 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_projects_delete AFTER DELETE ON projects BEGIN INSERT INTO stamps VALUES ('house', 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_projects_words AFTER UPDATE ON projects BEGIN INSERT INTO stamps VALUES ('words ' || NEW.id, 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_projects_used AFTER UPDATE OF used_at ON projects BEGIN INSERT INTO stamps VALUES ('house', 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_shelves_insert AFTER INSERT ON shelves BEGIN INSERT INTO stamps VALUES ('house', 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_shelves_update AFTER UPDATE OF name, retired_at ON shelves BEGIN INSERT INTO stamps VALUES ('house', 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_shelves_delete AFTER DELETE ON shelves BEGIN INSERT INTO stamps VALUES ('house', 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;

-- Steps of each run by what became of them.
CREATE TABLE run_counts (
  run_id INTEGER PRIMARY KEY REFERENCES runs (id) ON DELETE CASCADE,
  steps INTEGER NOT NULL DEFAULT 0,
  done INTEGER NOT NULL DEFAULT 0,
  failed INTEGER NOT NULL DEFAULT 0,
  expected_bytes INTEGER NOT NULL DEFAULT 0,
  done_expected_bytes INTEGER NOT NULL DEFAULT 0,
  done_bytes INTEGER NOT NULL DEFAULT 0
) STRICT;

INSERT INTO run_counts (run_id) SELECT id FROM runs;
UPDATE run_counts SET (steps, done, failed, expected_bytes, done_expected_bytes, done_bytes) = (
  SELECT count(*), coalesce(sum(state = 'done'), 0), coalesce(sum(state = 'failed'), 0), coalesce(sum(expected_bytes), 0),
    coalesce(sum(CASE state WHEN 'done' THEN expected_bytes END), 0),
    coalesce(sum(CASE state WHEN 'done' THEN coalesce(done_bytes, expected_bytes) END), 0)
  FROM run_steps WHERE run_steps.run_id = run_counts.run_id
);

CREATE TRIGGER count_runs AFTER INSERT ON runs BEGIN INSERT INTO run_counts (run_id) VALUES (NEW.id); END;
CREATE TRIGGER count_changes AFTER UPDATE OF state, outcome ON run_steps
WHEN OLD.state IN ('done', 'failed') OR NEW.state IN ('done', 'failed') BEGIN
  UPDATE run_counts SET
    done = done + (NEW.state = 'done') - (OLD.state = 'done'),
    failed = failed + (NEW.state = 'failed') - (OLD.state = 'failed'),
    done_expected_bytes = done_expected_bytes + (NEW.state = 'done') * coalesce(NEW.expected_bytes, 0)
      - (OLD.state = 'done') * coalesce(OLD.expected_bytes, 0),
    done_bytes = done_bytes + (NEW.state = 'done') * coalesce(NEW.done_bytes, NEW.expected_bytes, 0)
      - (OLD.state = 'done') * coalesce(OLD.done_bytes, OLD.expected_bytes, 0)
  WHERE run_id = NEW.run_id;
END;
DROP INDEX run_steps_counted;

-- What the runner goes by stands in an index: it reads a step when its turn comes. What it does, and what of that kind.
ALTER TABLE run_steps ADD COLUMN phase INTEGER GENERATED ALWAYS AS (json_extract(step, '$.phase')) VIRTUAL;
ALTER TABLE run_steps ADD COLUMN action TEXT GENERATED ALWAYS AS (json_extract(step, '$.action')) VIRTUAL;
ALTER TABLE run_steps ADD COLUMN what TEXT GENERATED ALWAYS AS (
  coalesce(json_extract(step, '$.change.type'), json_extract(step, '$.content.type'))
) VIRTUAL;
CREATE INDEX run_steps_outline ON run_steps (run_id, ordinal, state, phase, action, what, expected_bytes);

-- What a receipt remarks of a step: it copied the whole file instead of a part, or left a file where it is.
ALTER TABLE run_steps ADD COLUMN remark TEXT GENERATED ALWAYS AS (
  CASE WHEN json_extract(outcome, '$.whole') THEN 'whole' WHEN json_extract(outcome, '$.left') THEN 'left' END
) VIRTUAL;
CREATE INDEX run_steps_remarked ON run_steps (run_id, remark) WHERE remark IS NOT NULL;
