-- What a class was planned from when its first result was logged; NULL where it was held before this was kept.
ALTER TABLE frozen_plans ADD COLUMN inputs jsonb;

-- Blocks of the sheet with their ids: results, sets and decisions belong to an id. Empty: ids are positions, as in the rows so far.
ALTER TABLE sessions ADD COLUMN blocks jsonb NOT NULL DEFAULT '{}';
-- Counts saves, so that a save on an older sheet is seen.
ALTER TABLE sessions ADD COLUMN version integer NOT NULL DEFAULT 1;

-- A member who left is in no roster; what they did stays. Their name is free again.
ALTER TABLE members ADD COLUMN left_on date;
DROP INDEX members_name;
CREATE UNIQUE INDEX members_name ON members (gym_id, lower(name)) WHERE left_on IS NULL;

-- Every change of a result: what it was, what it became, by whom.
CREATE TABLE result_changes (
    gym_id uuid NOT NULL,
    id uuid NOT NULL,
    class_id uuid NOT NULL,
    member_id uuid NOT NULL,
    block integer NOT NULL,
    -- NULL: there was none
    was jsonb,
    -- NULL: it was taken back
    became jsonb,
    by_name text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, class_id) REFERENCES classes (gym_id, id) ON DELETE CASCADE,
    FOREIGN KEY (gym_id, member_id) REFERENCES members (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX result_changes_class ON result_changes (gym_id, class_id, id);

-- Changes that were sent with a key of their own: each is done once, however often it arrives.
CREATE TABLE done_keys (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    key uuid NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, key)
);
CREATE INDEX done_keys_age ON done_keys (gym_id, made_at);

-- Whose decision it is; NULL in rows from before this was kept. Taken back it stays, to be done again.
ALTER TABLE decisions ADD COLUMN by_account uuid;
ALTER TABLE decisions ADD COLUMN undone_at timestamptz;

-- A class that does not take place stays with all that is its own.
ALTER TABLE classes ADD COLUMN cancelled_at timestamptz;
