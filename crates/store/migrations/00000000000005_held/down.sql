DROP TABLE done_keys;
DROP TABLE result_changes;
DROP INDEX members_name;
CREATE UNIQUE INDEX members_name ON members (gym_id, lower(name));
ALTER TABLE members DROP COLUMN left_on;
ALTER TABLE sessions DROP COLUMN version;
ALTER TABLE sessions DROP COLUMN blocks;
ALTER TABLE frozen_plans DROP COLUMN inputs;
