-- What was called out to one member who was late in the middle of a workout: after how many steps, at which second, and what. The latest
-- that was not taken back counts.
CREATE TABLE cuts (
    gym_id uuid NOT NULL,
    id uuid NOT NULL,
    class_id uuid NOT NULL,
    member_id uuid NOT NULL,
    block integer NOT NULL,
    passed jsonb NOT NULL,
    shout jsonb NOT NULL,
    made_by text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    back_at timestamptz,
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, class_id) REFERENCES classes (gym_id, id) ON DELETE CASCADE,
    FOREIGN KEY (gym_id, member_id) REFERENCES members (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX cuts_class ON cuts (gym_id, class_id, id);
