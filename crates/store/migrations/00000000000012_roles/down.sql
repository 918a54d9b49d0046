-- Nobody gains or loses a right in silence: who has a role of the newer kind is given another first.
DO $$
BEGIN
    IF EXISTS (SELECT 1 FROM accounts WHERE role IN ('head-coach', 'front-desk'))
        OR EXISTS (SELECT 1 FROM links WHERE role IN ('head-coach', 'front-desk')) THEN
        RAISE EXCEPTION 'head coaches and front desks are not known to the older version: make them coaches or remove them first';
    END IF;
END $$;
ALTER TABLE accounts DROP CONSTRAINT accounts_role_check;
ALTER TABLE accounts ADD CONSTRAINT accounts_role_check CHECK (role IN ('owner', 'coach'));
ALTER TABLE links DROP CONSTRAINT links_role_check;
ALTER TABLE links ADD CONSTRAINT links_role_check CHECK (role IN ('owner', 'coach'));
