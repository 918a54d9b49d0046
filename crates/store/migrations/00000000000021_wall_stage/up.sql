-- Which part of the hour the walls show; NULL: what is shown before the class. Each part keeps a clock of its own.
ALTER TABLE classes ADD COLUMN wall_stage text, ADD COLUMN stage_clocks jsonb NOT NULL DEFAULT '{}';
-- Every process tells its walls: gym, class, start and stop in ms since 1970, the part; a dash for none.
CREATE OR REPLACE FUNCTION tell_clock() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('lantern_clock', concat_ws(' ', NEW.gym_id, NEW.id,
        coalesce(floor(extract(epoch FROM NEW.clock_started_at) * 1000)::bigint::text, '-'),
        coalesce(floor(extract(epoch FROM NEW.clock_paused_at) * 1000)::bigint::text, '-'),
        coalesce(NEW.wall_stage, '-')));
    RETURN NULL;
END $$;
DROP TRIGGER classes_tell_clock ON classes;
CREATE TRIGGER classes_tell_clock AFTER UPDATE OF clock_started_at, clock_paused_at, wall_stage ON classes
    FOR EACH ROW WHEN (OLD.clock_started_at IS DISTINCT FROM NEW.clock_started_at
        OR OLD.clock_paused_at IS DISTINCT FROM NEW.clock_paused_at
        OR OLD.wall_stage IS DISTINCT FROM NEW.wall_stage)
    EXECUTE FUNCTION tell_clock();
