-- One person may have an account in several halls, each with its own password and role.
DROP INDEX accounts_email;
CREATE UNIQUE INDEX accounts_email ON accounts (gym_id, email);
-- Who signs in has not said in which hall.
CREATE INDEX accounts_any_email ON accounts (email);
