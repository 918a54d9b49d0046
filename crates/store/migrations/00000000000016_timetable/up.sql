-- Classes that are held every week; weeks are made from them.
CREATE TABLE regular_classes (
    gym_id uuid NOT NULL REFERENCES gyms (id) ON DELETE CASCADE,
    id uuid NOT NULL,
    -- 0 Monday to 6 Sunday
    weekday smallint NOT NULL CHECK (weekday BETWEEN 0 AND 6),
    at time NOT NULL,
    length_s integer CHECK (length_s BETWEEN 300 AND 14400),
    places integer CHECK (places BETWEEN 1 AND 200),
    coach_id uuid,
    from_day date NOT NULL,
    until_day date,
    PRIMARY KEY (gym_id, id),
    FOREIGN KEY (gym_id, coach_id) REFERENCES accounts (gym_id, id) ON DELETE SET NULL (coach_id)
);
-- How many can be booked; NULL: as many as like. Whoever signed up later than that waits.
ALTER TABLE classes ADD COLUMN places integer CHECK (places BETWEEN 1 AND 200);
-- Which regular class it was made from, and for which day: it may have been moved since, and is not made again.
ALTER TABLE classes ADD COLUMN regular_id uuid;
ALTER TABLE classes ADD COLUMN regular_on date;
CREATE UNIQUE INDEX classes_regular ON classes (gym_id, regular_id, regular_on);
-- How they came, where it was not as booked.
ALTER TABLE bookings ADD COLUMN came text CHECK (came IN ('late', 'no-show'));
