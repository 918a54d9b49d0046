-- Whoever waits would have a place in silence: waiting lists are emptied first.
DO $$
BEGIN
    IF EXISTS (
        SELECT 1 FROM classes c
        WHERE c.places < (SELECT count(*) FROM bookings b WHERE b.gym_id = c.gym_id AND b.class_id = c.id)
    ) THEN
        RAISE EXCEPTION 'waiting lists are not known to the older version: take out who waits, or give the classes more places first';
    END IF;
END $$;
ALTER TABLE bookings DROP COLUMN came;
DROP INDEX classes_regular;
ALTER TABLE classes DROP COLUMN regular_on;
ALTER TABLE classes DROP COLUMN regular_id;
ALTER TABLE classes DROP COLUMN places;
DROP TABLE regular_classes;
