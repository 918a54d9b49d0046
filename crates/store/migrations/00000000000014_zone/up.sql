-- Where a hall is decides what "today" and "now" are in it; NULL: where the server is.
ALTER TABLE gyms ADD COLUMN zone text;
-- The day on which its weeks begin: 0 Monday to 6 Sunday.
ALTER TABLE gyms ADD COLUMN week_from smallint NOT NULL DEFAULT 0 CHECK (week_from BETWEEN 0 AND 6);
