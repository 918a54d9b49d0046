-- A workout's clock that its part keeps goes back to where every clock was; those of other parts are of their hour alone.
UPDATE classes SET clock_started_at = NULL, clock_paused_at = NULL WHERE wall_stage IS NOT NULL AND wall_stage NOT LIKE 'workout-%';
CREATE OR REPLACE FUNCTION tell_clock() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('lantern_clock', concat_ws(' ', NEW.gym_id, NEW.id,
        coalesce(round(extract(epoch FROM NEW.clock_started_at) * 1000)::bigint::text, '-'),
        coalesce(round(extract(epoch FROM NEW.clock_paused_at) * 1000)::bigint::text, '-')));
    RETURN NULL;
END $$;
DROP TRIGGER classes_tell_clock ON classes;
CREATE TRIGGER classes_tell_clock AFTER UPDATE OF clock_started_at, clock_paused_at ON classes
    FOR EACH ROW WHEN (OLD.clock_started_at IS DISTINCT FROM NEW.clock_started_at
        OR OLD.clock_paused_at IS DISTINCT FROM NEW.clock_paused_at)
    EXECUTE FUNCTION tell_clock();
ALTER TABLE classes DROP COLUMN wall_stage, DROP COLUMN stage_clocks;
