-- What a step of a seat left: of a ring with two faces which way it went on, too, and why against the build sheet.
ALTER TABLE steps MODIFY COLUMN detail VARCHAR(640) NOT NULL;
