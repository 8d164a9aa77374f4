-- An apprentice works as the bench does; a second person counter-signs what an apprentice signed.
ALTER TABLE people MODIFY COLUMN role VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE sign_offs MODIFY COLUMN role VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
