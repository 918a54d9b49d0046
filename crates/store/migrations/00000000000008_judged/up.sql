-- The day on which somebody trained, beside the result: sessions are counted in an index, however many years there are.
ALTER TABLE results ADD COLUMN on_date date;
UPDATE results r SET on_date = c.starts_at::date FROM classes c WHERE c.gym_id = r.gym_id AND c.id = r.class_id;
ALTER TABLE results ALTER COLUMN on_date SET NOT NULL;
DROP INDEX results_member;
CREATE INDEX results_member ON results (gym_id, member_id, on_date);
-- How a result stands to what was foretold, worked out once: which tenth of the range (0 to 9, better first), inside it or not, and what
-- the range rested on. All NULL where nothing was foretold for what was done; foretold_by 'unread' where the plan cannot be read.
ALTER TABLE results ADD COLUMN judged boolean NOT NULL DEFAULT false;
ALTER TABLE results ADD COLUMN slot smallint CHECK (slot BETWEEN 0 AND 9);
ALTER TABLE results ADD COLUMN inside boolean;
ALTER TABLE results ADD COLUMN foretold_by text;
CREATE INDEX results_unjudged ON results (gym_id, class_id) WHERE NOT judged;
