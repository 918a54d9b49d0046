-- Sums of a month's judged results, as of so many changes of its log: the record adds up months, not results. Derived: a row that is
-- missing, or of fewer changes, is worked out again.
CREATE TABLE record_months (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    month date NOT NULL,
    changes bigint NOT NULL,
    body jsonb NOT NULL,
    PRIMARY KEY (gym_id, month)
);
CREATE INDEX results_day ON results (gym_id, on_date);
-- How many days each member has trained in all: those before a day are all but the few since.
ALTER TABLE members ADD COLUMN days integer NOT NULL DEFAULT 0;
UPDATE members m SET days = d.n FROM (SELECT gym_id, member_id, count(*) AS n FROM member_days GROUP BY 1, 2) d
WHERE m.gym_id = d.gym_id AND m.id = d.member_id;
CREATE FUNCTION count_member_day() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'INSERT' THEN
        UPDATE members SET days = days + 1 WHERE gym_id = NEW.gym_id AND id = NEW.member_id;
    ELSE
        UPDATE members SET days = days - 1 WHERE gym_id = OLD.gym_id AND id = OLD.member_id;
    END IF;
    RETURN NULL;
END $$;
CREATE TRIGGER member_days_count AFTER INSERT OR DELETE ON member_days
    FOR EACH ROW EXECUTE FUNCTION count_member_day();
