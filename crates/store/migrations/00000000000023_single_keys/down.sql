ALTER TABLE accounts DROP COLUMN single_keys;
