ALTER TABLE sessions ADD COLUMN draft text;
-- one draft a sheet: the latest stays
UPDATE sessions s SET draft = (
    SELECT d.body FROM drafts d WHERE d.gym_id = s.gym_id AND d.session_id = s.id ORDER BY d.made_at DESC, d.account_id LIMIT 1
);
DROP TABLE drafts;
