-- Hole of a rack's hooks that a member uses, counted from the floor.
ALTER TABLE members ADD COLUMN hooks integer CHECK (hooks BETWEEN 1 AND 60);

-- Sets of a lift as they went, ticked off at the rack.
CREATE TABLE lifted_sets (
    gym_id uuid NOT NULL,
    class_id uuid NOT NULL,
    member_id uuid NOT NULL,
    block integer NOT NULL CHECK (block >= 0),
    -- position of the lift in its block
    lift integer NOT NULL CHECK (lift >= 0),
    -- from 1
    number integer NOT NULL CHECK (number BETWEEN 1 AND 60),
    -- what was lifted, by catalogue id: the sheet may change later
    movement text NOT NULL,
    kg double precision NOT NULL CHECK (kg >= 0 AND kg <= 600),
    reps integer NOT NULL CHECK (reps BETWEEN 0 AND 200),
    -- reps that were left, as the member says
    reserve integer CHECK (reserve BETWEEN 0 AND 10),
    missed boolean NOT NULL DEFAULT false,
    logged_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, class_id, member_id, block, lift, number),
    FOREIGN KEY (gym_id, class_id) REFERENCES classes (gym_id, id) ON DELETE CASCADE,
    FOREIGN KEY (gym_id, member_id) REFERENCES members (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX lifted_sets_member ON lifted_sets (gym_id, member_id, movement);

CREATE TABLE cycles (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    id uuid NOT NULL,
    starts_on date NOT NULL,
    body jsonb NOT NULL,
    PRIMARY KEY (gym_id, id)
);
CREATE INDEX cycles_start ON cycles (gym_id, starts_on);
