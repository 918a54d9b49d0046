-- Two roles more: a head coach settles what the hall settles, the front desk books and sees no limits.
ALTER TABLE accounts DROP CONSTRAINT accounts_role_check;
ALTER TABLE accounts ADD CONSTRAINT accounts_role_check CHECK (role IN ('owner', 'head-coach', 'coach', 'front-desk'));
ALTER TABLE links DROP CONSTRAINT links_role_check;
ALTER TABLE links ADD CONSTRAINT links_role_check CHECK (role IN ('owner', 'head-coach', 'coach', 'front-desk'));
