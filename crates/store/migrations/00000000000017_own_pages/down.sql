-- What members said and nobody answered must not be lost in silence.
DO $$
BEGIN
    IF EXISTS (SELECT 1 FROM proposals) THEN
        RAISE EXCEPTION 'members'' proposals are not known to the older version: take them or put them away first';
    END IF;
END $$;
DROP TABLE proposals;
DROP TABLE member_links;
