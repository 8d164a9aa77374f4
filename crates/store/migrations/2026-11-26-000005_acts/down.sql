DROP TABLE rounds;
ALTER TABLE ticks DROP COLUMN faces;
ALTER TABLE ticks DROP COLUMN readings;
ALTER TABLE rebuilds DROP COLUMN derivation;
