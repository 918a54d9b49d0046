-- Reps of each guarded pattern behind a result: what the next weeks may ask for depends on them.
ALTER TABLE results ADD COLUMN volume jsonb NOT NULL DEFAULT '{}';
