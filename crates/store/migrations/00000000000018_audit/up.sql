-- Who changed what, when. What it was about is kept by its key: an erased member has no name here either.
CREATE TABLE audit (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    id uuid NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    -- the name outlives the account
    account_id uuid NOT NULL,
    by_name text NOT NULL,
    deed text NOT NULL,
    subject uuid,
    detail text NOT NULL DEFAULT '' CHECK (length(detail) <= 120),
    PRIMARY KEY (gym_id, id)
);
CREATE INDEX audit_account ON audit (gym_id, account_id, id);
