-- When the wall's clock was stopped for a while; NULL: it runs or stands. Going on moves the start by as long.
ALTER TABLE classes ADD COLUMN clock_paused_at timestamptz;
-- Every process tells its walls: gym, class, start and stop in ms since 1970, a dash for none.
CREATE FUNCTION tell_clock() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('lantern_clock', concat_ws(' ', NEW.gym_id, NEW.id,
        coalesce(round(extract(epoch FROM NEW.clock_started_at) * 1000)::bigint::text, '-'),
        coalesce(round(extract(epoch FROM NEW.clock_paused_at) * 1000)::bigint::text, '-')));
    RETURN NULL;
END $$;
CREATE TRIGGER classes_tell_clock AFTER UPDATE OF clock_started_at, clock_paused_at ON classes
    FOR EACH ROW WHEN (OLD.clock_started_at IS DISTINCT FROM NEW.clock_started_at
        OR OLD.clock_paused_at IS DISTINCT FROM NEW.clock_paused_at)
    EXECUTE FUNCTION tell_clock();
