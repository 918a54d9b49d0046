-- Links that are used once: to join a hall with a password of one's own, or to set a new one. Only a hash of the link is kept.
CREATE TABLE links (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    id uuid NOT NULL,
    -- NULL: somebody new joins
    account_id uuid,
    email text NOT NULL CHECK (email = lower(email)),
    name text NOT NULL,
    role text NOT NULL CHECK (role IN ('owner', 'coach')),
    token_hash text NOT NULL,
    made_by text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    ends_at timestamptz NOT NULL,
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, account_id) REFERENCES accounts (gym_id, id) ON DELETE CASCADE
);
-- The link itself is the only key, as with a card.
CREATE UNIQUE INDEX links_token ON links (token_hash);
-- Somebody's own sign-ins, to list and end them.
CREATE INDEX sign_ins_account ON sign_ins (gym_id, account_id);
