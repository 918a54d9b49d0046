-- Whether single keys act on pages; off where they come in the way of a voice or a screen reader. Kept with the account, on every machine.
ALTER TABLE accounts ADD COLUMN single_keys boolean NOT NULL DEFAULT true;
