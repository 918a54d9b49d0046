ALTER TABLE sessions DROP COLUMN choices;
