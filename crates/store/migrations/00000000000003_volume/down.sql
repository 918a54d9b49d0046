ALTER TABLE results DROP COLUMN volume;
