DROP TABLE cycles;
DROP TABLE lifted_sets;
ALTER TABLE members DROP COLUMN hooks;
