-- A second factor: a secret that an app of the account's owner turns into a code every half minute, and codes for when that is lost.
CREATE TABLE second_factors (
    gym_id uuid NOT NULL,
    account_id uuid NOT NULL,
    secret bytea NOT NULL,
    -- NULL: begun, and no code has been shown yet
    proven_at timestamptz,
    -- the half minute of the last code that was taken: none is taken twice
    last_step bigint NOT NULL DEFAULT 0,
    PRIMARY KEY (gym_id, account_id),
    FOREIGN KEY (gym_id, account_id) REFERENCES accounts (gym_id, id) ON DELETE CASCADE
);
CREATE TABLE recovery_codes (
    gym_id uuid NOT NULL,
    account_id uuid NOT NULL,
    code_hash text NOT NULL,
    PRIMARY KEY (gym_id, account_id, code_hash),
    FOREIGN KEY (gym_id, account_id) REFERENCES second_factors (gym_id, account_id) ON DELETE CASCADE
);
-- The password was right and the code is still asked for.
ALTER TABLE sign_ins ADD COLUMN whole boolean NOT NULL DEFAULT true;
-- The owner wants one of everybody.
ALTER TABLE gyms ADD COLUMN second_factor boolean NOT NULL DEFAULT false;
