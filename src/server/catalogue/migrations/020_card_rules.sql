-- Folders by which the house knows cards beside the ones that are known everywhere.
CREATE TABLE card_rules (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL,
  sign TEXT NOT NULL UNIQUE COLLATE NOCASE
) STRICT;
CREATE TRIGGER stamp_card_rules_insert AFTER INSERT ON card_rules BEGIN INSERT INTO stamps VALUES ('card rules', 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
CREATE TRIGGER stamp_card_rules_delete AFTER DELETE ON card_rules BEGIN INSERT INTO stamps VALUES ('card rules', 1) ON CONFLICT (scope) DO UPDATE SET version = version + 1; END;
