-- A number that is another whenever something is that views are made of: what was answered before still holds while it is the same.
-- Journals of runs and the room on shelves are not among it.

-- `stock` alone: whether the items that stand there are others; reading all of them takes longest.
CREATE TABLE stamp (version INTEGER NOT NULL, stock INTEGER NOT NULL) STRICT;
INSERT INTO stamp (version, stock) VALUES (1, 1);

CREATE TRIGGER stamp_projects_insert AFTER INSERT ON projects BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_projects_update AFTER UPDATE ON projects BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_projects_delete AFTER DELETE ON projects BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_items_insert AFTER INSERT ON items BEGIN UPDATE stamp SET version = version + 1, stock = stock + 1; END;
CREATE TRIGGER stamp_items_update AFTER UPDATE ON items BEGIN UPDATE stamp SET version = version + 1, stock = stock + 1; END;
CREATE TRIGGER stamp_items_delete AFTER DELETE ON items BEGIN UPDATE stamp SET version = version + 1, stock = stock + 1; END;
CREATE TRIGGER stamp_clips_insert AFTER INSERT ON clips BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_clips_update AFTER UPDATE ON clips BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_clips_delete AFTER DELETE ON clips BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_renditions_insert AFTER INSERT ON renditions BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_renditions_update AFTER UPDATE ON renditions BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_renditions_delete AFTER DELETE ON renditions BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_links_insert AFTER INSERT ON links BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_links_update AFTER UPDATE ON links BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_links_delete AFTER DELETE ON links BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_timelines_insert AFTER INSERT ON timelines BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_timelines_update AFTER UPDATE ON timelines BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_timelines_delete AFTER DELETE ON timelines BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_timeline_events_insert AFTER INSERT ON timeline_events BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_timeline_events_update AFTER UPDATE ON timeline_events BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_timeline_events_delete AFTER DELETE ON timeline_events BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_crates_insert AFTER INSERT ON crates BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_crates_update AFTER UPDATE ON crates BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_crates_delete AFTER DELETE ON crates BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_remembered_insert AFTER INSERT ON remembered BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_remembered_update AFTER UPDATE ON remembered BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_remembered_delete AFTER DELETE ON remembered BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_bins_insert AFTER INSERT ON bins BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_bins_update AFTER UPDATE ON bins BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_bins_delete AFTER DELETE ON bins BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_edits_insert AFTER INSERT ON edits BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_edits_update AFTER UPDATE ON edits BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_edits_delete AFTER DELETE ON edits BEGIN UPDATE stamp SET version = version + 1; END;
CREATE TRIGGER stamp_shelves_insert AFTER INSERT ON shelves BEGIN UPDATE stamp SET version = version + 1, stock = stock + 1; END;
CREATE TRIGGER stamp_shelves_update AFTER UPDATE OF name, retired_at ON shelves BEGIN UPDATE stamp SET version = version + 1, stock = stock + 1; END;
CREATE TRIGGER stamp_shelves_delete AFTER DELETE ON shelves BEGIN UPDATE stamp SET version = version + 1, stock = stock + 1; END;
