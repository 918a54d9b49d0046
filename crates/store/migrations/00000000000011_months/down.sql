DROP TRIGGER member_days_count ON member_days;
DROP FUNCTION count_member_day();
ALTER TABLE members DROP COLUMN days;
DROP INDEX results_day;
DROP TABLE record_months;
