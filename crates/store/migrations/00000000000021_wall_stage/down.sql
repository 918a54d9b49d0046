-- The clock of a workout goes back to where every clock was; those of other parts are of their hour alone.
UPDATE classes c SET clock_started_at = k.started, clock_paused_at = k.paused
FROM (
    SELECT s.gym_id, s.id, w.started, w.paused FROM classes s LEFT JOIN LATERAL (
        SELECT (e.value->>'started')::timestamptz AS started, (e.value->>'paused')::timestamptz AS paused
        FROM jsonb_each(s.stage_clocks) e WHERE e.key LIKE 'workout-%' OR e.key = '-' ORDER BY e.key DESC LIMIT 1
    ) w ON true
    WHERE s.wall_stage IS NOT NULL AND s.wall_stage NOT LIKE 'workout-%'
) k WHERE c.gym_id = k.gym_id AND c.id = k.id;
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
