ALTER TABLE instruments DROP COLUMN away;
