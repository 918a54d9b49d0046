DROP TABLE known_doors;
DROP TABLE tries;
