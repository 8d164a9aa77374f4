-- Which of several of the same kind it was: what the certificate and the exported readings name.
ALTER TABLE instruments ADD COLUMN IF NOT EXISTS serial VARCHAR(60) NOT NULL DEFAULT '';
-- The zone that times are said in, empty for UTC; records keep UTC.
ALTER TABLE shops ADD COLUMN IF NOT EXISTS zone VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '';
