-- Tries at doors, counted by every process together. They come before anybody's hall is known, so they are the one thing that begins
-- with no gym. Unlogged: a flood of them must not wait for the disk, and a crash may forget them.
CREATE UNLOGGED TABLE tries (
    -- SHA-256 of whose tries they are
    key_hash text PRIMARY KEY,
    taken integer NOT NULL,
    since timestamptz NOT NULL
);
CREATE INDEX tries_since ON tries (since);
-- Addresses from which somebody got in: there others' tries do not stand in their way.
CREATE TABLE known_doors (
    gym_id uuid NOT NULL,
    account_id uuid NOT NULL,
    -- SHA-256 of the address and the account
    key_hash text NOT NULL,
    at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, account_id, key_hash),
    FOREIGN KEY (gym_id, account_id) REFERENCES accounts (gym_id, id) ON DELETE CASCADE
);
CREATE INDEX known_doors_key ON known_doors (key_hash);
