-- The older version knows one account of an address.
DO $$
BEGIN
    IF EXISTS (SELECT 1 FROM accounts GROUP BY email HAVING count(*) > 1) THEN
        RAISE EXCEPTION 'accounts of one address in several halls are not known to the older version: change the address of all but one first';
    END IF;
END $$;
DROP INDEX accounts_any_email;
DROP INDEX accounts_email;
CREATE UNIQUE INDEX accounts_email ON accounts (email);
