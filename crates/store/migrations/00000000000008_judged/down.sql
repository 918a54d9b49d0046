DROP INDEX results_unjudged;
ALTER TABLE results DROP COLUMN foretold_by;
ALTER TABLE results DROP COLUMN inside;
ALTER TABLE results DROP COLUMN slot;
ALTER TABLE results DROP COLUMN judged;
DROP INDEX results_member;
CREATE INDEX results_member ON results (gym_id, member_id);
ALTER TABLE results DROP COLUMN on_date;
