DROP INDEX sign_ins_account;
DROP TABLE links;
