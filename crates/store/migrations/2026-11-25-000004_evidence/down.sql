DROP TABLE picture_bodies;
DROP TABLE pictures;
DROP TABLE repairs;
ALTER TABLE clocks DROP COLUMN step;
ALTER TABLE ticks DROP COLUMN value, DROP COLUMN reason;
