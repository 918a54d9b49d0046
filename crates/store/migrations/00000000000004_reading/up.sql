-- What a coach chose for lines of a sheet whose place was in doubt: [[text of the line, choice], ...].
ALTER TABLE sessions ADD COLUMN choices jsonb NOT NULL DEFAULT '[]';
