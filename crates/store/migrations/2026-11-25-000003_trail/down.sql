DROP TABLE scrapped;
DROP TABLE answers;
DROP TABLE ticks;
