-- What a result teaches the forecasts, worked out once with how it stands: how much later or fewer than the middle that was foretold
-- before anything was learnt (in logarithms), the sds of that forecast to both sides, the kind of work and what limits it. All NULL
-- where the two cannot be compared; results of plans from before this was kept teach nothing.
ALTER TABLE results ADD COLUMN late double precision;
ALTER TABLE results ADD COLUMN better_sd double precision;
ALTER TABLE results ADD COLUMN worse_sd double precision;
ALTER TABLE results ADD COLUMN format text;
ALTER TABLE results ADD COLUMN limited_by text;
-- How it stands to what was on the screen: off the middle and half of the range in logarithms, the chances that were said of the window
-- and of the cap with whether they came, the member's own results behind it; else why it is not judged. What was judged before this was
-- kept is judged again.
ALTER TABLE results ADD COLUMN off_middle double precision;
ALTER TABLE results ADD COLUMN half double precision;
ALTER TABLE results ADD COLUMN window_said double precision;
ALTER TABLE results ADD COLUMN window_came boolean;
ALTER TABLE results ADD COLUMN cap_said double precision;
ALTER TABLE results ADD COLUMN cap_came boolean;
ALTER TABLE results ADD COLUMN own_results integer;
ALTER TABLE results ADD COLUMN unjudged text;
UPDATE results SET judged = false, slot = NULL, inside = NULL, foretold_by = NULL;
-- Why the coach leaves it out of learning; NULL: it teaches.
ALTER TABLE results ADD COLUMN left_out text CHECK (left_out IN ('odd-day', 'other-work', 'forgotten'));
CREATE INDEX results_teach ON results (gym_id, on_date) WHERE late IS NOT NULL;
-- What was on a screen before results came: when the clock was started, when a card was opened, and what a class was held by whose
-- results were all taken back. The latest stands for what is foretold of whoever still does the same.
CREATE TABLE shown_plans (
    gym_id uuid NOT NULL,
    id uuid NOT NULL,
    class_id uuid NOT NULL,
    body jsonb NOT NULL,
    why text NOT NULL CHECK (why IN ('clock', 'card', 'taken-back')),
    shown_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, class_id) REFERENCES classes (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX shown_plans_class ON shown_plans (gym_id, class_id, id);
-- Counts the changes of a day's log: what was learnt until a day hangs on these alone.
CREATE TABLE log_days (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    on_date date NOT NULL,
    changes bigint NOT NULL DEFAULT 1,
    PRIMARY KEY (gym_id, on_date)
);
INSERT INTO log_days (gym_id, on_date) SELECT DISTINCT gym_id, on_date FROM results;
-- On which days each member trained, and how many results they have of each: sessions are days.
CREATE TABLE member_days (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    member_id uuid NOT NULL,
    on_date date NOT NULL,
    results integer NOT NULL,
    PRIMARY KEY (gym_id, member_id, on_date)
);
INSERT INTO member_days SELECT gym_id, member_id, on_date, count(*) FROM results GROUP BY gym_id, member_id, on_date;
CREATE FUNCTION count_log_day() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    -- a hall that is being removed counts nothing any more
    IF TG_OP <> 'INSERT' THEN
        UPDATE member_days SET results = results - 1
        WHERE gym_id = OLD.gym_id AND member_id = OLD.member_id AND on_date = OLD.on_date;
        DELETE FROM member_days
        WHERE gym_id = OLD.gym_id AND member_id = OLD.member_id AND on_date = OLD.on_date AND results < 1;
        INSERT INTO log_days (gym_id, on_date) SELECT id, OLD.on_date FROM gyms WHERE id = OLD.gym_id
        ON CONFLICT (gym_id, on_date) DO UPDATE SET changes = log_days.changes + 1;
    END IF;
    IF TG_OP <> 'DELETE' THEN
        INSERT INTO member_days SELECT id, NEW.member_id, NEW.on_date, 1 FROM gyms WHERE id = NEW.gym_id
        ON CONFLICT (gym_id, member_id, on_date) DO UPDATE SET results = member_days.results + 1;
        INSERT INTO log_days (gym_id, on_date) SELECT id, NEW.on_date FROM gyms WHERE id = NEW.gym_id
        ON CONFLICT (gym_id, on_date) DO UPDATE SET changes = log_days.changes + 1;
    END IF;
    RETURN NULL;
END $$;
CREATE TRIGGER results_count_day AFTER INSERT OR DELETE OR UPDATE OF outcome, tier, late, left_out, on_date, member_id ON results
    FOR EACH ROW EXECUTE FUNCTION count_log_day();
