-- Bookings that another program sends: the secret by which it proves that it is the hall's own.
CREATE TABLE feeds (
    gym_id uuid PRIMARY KEY REFERENCES gyms (id) ON DELETE CASCADE,
    secret text NOT NULL,
    made_by text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);
-- What came, with what became of it: each once, and nothing that nobody could place is lost.
CREATE TABLE feed_events (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    id uuid NOT NULL,
    event text NOT NULL CHECK (length(event) BETWEEN 1 AND 80),
    at timestamptz NOT NULL DEFAULT now(),
    what text NOT NULL CHECK (what IN ('booked', 'cancelled')),
    starts_at timestamp NOT NULL,
    member text NOT NULL CHECK (length(member) <= 80),
    outcome text NOT NULL,
    PRIMARY KEY (gym_id, id)
);
CREATE UNIQUE INDEX feed_events_event ON feed_events (gym_id, event);
