-- A member's own page, opened by a link without a password. Only a hash of the link is kept; a new one takes the place of the old.
CREATE TABLE member_links (
    gym_id uuid NOT NULL,
    member_id uuid NOT NULL,
    token_hash text NOT NULL,
    made_by text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    ends_at timestamptz NOT NULL,
    opened_at timestamptz,
    PRIMARY KEY (gym_id, member_id),
    FOREIGN KEY (gym_id, member_id) REFERENCES members (gym_id, id) ON DELETE CASCADE
);
-- The link itself is the only key, as with a card.
CREATE UNIQUE INDEX member_links_token ON member_links (token_hash);
-- What members say of themselves, until a coach takes it or not.
CREATE TABLE proposals (
    gym_id uuid NOT NULL,
    id uuid NOT NULL,
    member_id uuid NOT NULL,
    body jsonb NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, member_id) REFERENCES members (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX proposals_member ON proposals (gym_id, member_id, id);
