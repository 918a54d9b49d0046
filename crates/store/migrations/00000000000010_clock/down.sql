DROP TRIGGER classes_tell_clock ON classes;
DROP FUNCTION tell_clock();
ALTER TABLE classes DROP COLUMN clock_paused_at;
