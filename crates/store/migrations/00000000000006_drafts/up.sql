-- What somebody typed of a sheet and has not saved is theirs: two coaches at one sheet do not type into each other's text.
CREATE TABLE drafts (
    gym_id uuid NOT NULL,
    session_id uuid NOT NULL,
    account_id uuid NOT NULL,
    body text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (gym_id, session_id, account_id),
    FOREIGN KEY (gym_id, session_id) REFERENCES sessions (gym_id, id) ON DELETE CASCADE,
    FOREIGN KEY (gym_id, account_id) REFERENCES accounts (gym_id, id) ON DELETE CASCADE
);
-- Whose the drafts so far are is not known: each coach of the gym finds them.
INSERT INTO drafts (gym_id, session_id, account_id, body)
SELECT s.gym_id, s.id, a.id, s.draft FROM sessions s JOIN accounts a ON a.gym_id = s.gym_id WHERE s.draft IS NOT NULL;
ALTER TABLE sessions DROP COLUMN draft;
