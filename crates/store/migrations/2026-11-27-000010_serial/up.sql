-- Which of several of the same kind it was: what the certificate and the exported readings name.
ALTER TABLE instruments ADD COLUMN IF NOT EXISTS serial VARCHAR(60) NOT NULL DEFAULT '';
-- The zone that times are said in, empty for UTC; records keep UTC.
ALTER TABLE shops ADD COLUMN IF NOT EXISTS zone VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '';

-- What the Reckoner answered, pinned to a rebuild: a sheet with what was typed. One that replaces another names it.
CREATE TABLE IF NOT EXISTS pins (
  id BINARY(16) PRIMARY KEY,
  rebuild_id BINARY(16) NOT NULL,
  name VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  about VARCHAR(120) NOT NULL,
  document MEDIUMTEXT NOT NULL,
  replaces BINARY(16) NULL,
  person_id BINARY(16) NOT NULL,
  at DATETIME(6) NOT NULL,
  taken_away_at DATETIME(6) NULL,
  KEY pins_of (rebuild_id),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
