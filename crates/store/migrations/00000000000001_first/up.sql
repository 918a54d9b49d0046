-- Every table begins with the gym, in its key and in its indexes: no query can reach another gym's rows by a key alone.
CREATE TABLE gyms (
    id uuid PRIMARY KEY,
    name text NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
    place text NOT NULL DEFAULT '',
    settings jsonb NOT NULL DEFAULT '{}',
    demo boolean NOT NULL DEFAULT false,
    created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE accounts (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    id uuid NOT NULL,
    email text NOT NULL CHECK (email = lower(email)),
    name text NOT NULL,
    role text NOT NULL CHECK (role IN ('owner', 'coach')),
    password_hash text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, id)
);
CREATE UNIQUE INDEX accounts_email ON accounts (email);

-- The signed-in: the cookie holds only the id; the row decides whether it still counts.
CREATE TABLE sign_ins (
    gym_id uuid NOT NULL,
    id uuid NOT NULL,
    account_id uuid NOT NULL,
    csrf text NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, account_id) REFERENCES accounts (gym_id, id) ON DELETE CASCADE
);

CREATE TABLE members (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    id uuid NOT NULL,
    name text NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
    standard text NOT NULL CHECK (standard IN ('heavier', 'lighter')),
    level text NOT NULL CHECK (level IN ('new', 'regular', 'seasoned', 'competitive')),
    body_mass_kg double precision CHECK (body_mass_kg BETWEEN 25 AND 250),
    stature_cm double precision CHECK (stature_cm BETWEEN 100 AND 230),
    -- sessions held before this log began
    sessions_before integer NOT NULL DEFAULT 0 CHECK (sessions_before >= 0),
    PRIMARY KEY (gym_id, id)
);
CREATE UNIQUE INDEX members_name ON members (gym_id, lower(name));

CREATE TABLE maxes (
    gym_id uuid NOT NULL,
    id uuid NOT NULL,
    member_id uuid NOT NULL,
    lift text NOT NULL,
    kg double precision NOT NULL CHECK (kg > 0 AND kg <= 500),
    reps integer NOT NULL CHECK (reps BETWEEN 1 AND 30),
    reserve integer NOT NULL DEFAULT 0 CHECK (reserve BETWEEN 0 AND 10),
    on_date date,
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, member_id) REFERENCES members (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX maxes_member ON maxes (gym_id, member_id);

CREATE TABLE bests (
    gym_id uuid NOT NULL,
    id uuid NOT NULL,
    member_id uuid NOT NULL,
    movement text NOT NULL,
    reps double precision NOT NULL CHECK (reps >= 0 AND reps <= 2000),
    on_date date,
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, member_id) REFERENCES members (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX bests_member ON bests (gym_id, member_id);

CREATE TABLE trials (
    gym_id uuid NOT NULL,
    id uuid NOT NULL,
    member_id uuid NOT NULL,
    test text NOT NULL CHECK (test IN ('row-2000', 'run-1000')),
    seconds double precision NOT NULL CHECK (seconds > 0 AND seconds <= 3600),
    on_date date,
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, member_id) REFERENCES members (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX trials_member ON trials (gym_id, member_id);

CREATE TABLE limits (
    gym_id uuid NOT NULL,
    member_id uuid NOT NULL,
    spares text NOT NULL,
    PRIMARY KEY (gym_id, member_id, spares),
    FOREIGN KEY (gym_id, member_id) REFERENCES members (gym_id, id) ON DELETE CASCADE
);

-- One row for each kind and size; things that are only counted have size 0.
CREATE TABLE kit (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    kind text NOT NULL,
    size double precision NOT NULL DEFAULT 0 CHECK (size >= 0 AND size <= 200),
    count integer NOT NULL CHECK (count BETWEEN 0 AND 500),
    PRIMARY KEY (gym_id, kind, size)
);

CREATE TABLE sessions (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    id uuid NOT NULL,
    on_date date NOT NULL,
    sheet text NOT NULL DEFAULT '',
    -- typed and not saved yet
    draft text,
    changed_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, id)
);
CREATE INDEX sessions_date ON sessions (gym_id, on_date);

CREATE TABLE classes (
    gym_id uuid NOT NULL,
    id uuid NOT NULL,
    session_id uuid NOT NULL,
    starts_at timestamp NOT NULL,
    length_s integer CHECK (length_s BETWEEN 300 AND 14400),
    coach_id uuid,
    seed bigint NOT NULL DEFAULT 1,
    -- when the wall's clock was started; NULL: it stands
    clock_started_at timestamptz,
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, session_id) REFERENCES sessions (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX classes_start ON classes (gym_id, starts_at);

CREATE TABLE bookings (
    gym_id uuid NOT NULL,
    class_id uuid NOT NULL,
    member_id uuid NOT NULL,
    position integer NOT NULL,
    -- the unguessable part of a member's card link
    card_token text NOT NULL,
    PRIMARY KEY (gym_id, class_id, member_id),
    FOREIGN KEY (gym_id, class_id) REFERENCES classes (gym_id, id) ON DELETE CASCADE,
    FOREIGN KEY (gym_id, member_id) REFERENCES members (gym_id, id) ON DELETE CASCADE
);
CREATE UNIQUE INDEX bookings_card ON bookings (card_token);

CREATE TABLE decisions (
    gym_id uuid NOT NULL,
    id uuid NOT NULL,
    class_id uuid NOT NULL,
    body jsonb NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, class_id) REFERENCES classes (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX decisions_class ON decisions (gym_id, class_id, id);

CREATE TABLE results (
    gym_id uuid NOT NULL,
    class_id uuid NOT NULL,
    member_id uuid NOT NULL,
    block integer NOT NULL,
    outcome jsonb NOT NULL,
    tier text NOT NULL CHECK (tier IN ('full', 'trim', 'base')),
    load_kg double precision CHECK (load_kg > 0 AND load_kg <= 600),
    note text NOT NULL DEFAULT '' CHECK (length(note) <= 500),
    logged_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, class_id, member_id, block),
    FOREIGN KEY (gym_id, class_id) REFERENCES classes (gym_id, id) ON DELETE CASCADE,
    FOREIGN KEY (gym_id, member_id) REFERENCES members (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX results_member ON results (gym_id, member_id);

-- The plan that a class was held by: later changes never rewrite it.
CREATE TABLE frozen_plans (
    gym_id uuid NOT NULL,
    class_id uuid NOT NULL,
    body jsonb NOT NULL,
    frozen_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, class_id),
    FOREIGN KEY (gym_id, class_id) REFERENCES classes (gym_id, id) ON DELETE CASCADE
);
