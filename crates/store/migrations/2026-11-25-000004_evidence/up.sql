-- What was measured when a step was ticked, and why a number outside its limits may stay.
ALTER TABLE ticks ADD COLUMN IF NOT EXISTS value DOUBLE NULL, ADD COLUMN IF NOT EXISTS reason VARCHAR(400) NOT NULL DEFAULT '';

-- A wait of the derived trail: the step it belongs to; empty for the clocks of seats.
ALTER TABLE clocks ADD COLUMN IF NOT EXISTS step VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '';

-- Repairs after which marks are void. Append-only; one that was noted by mistake is taken back, not deleted.
CREATE TABLE IF NOT EXISTS repairs (
  id BINARY(16) PRIMARY KEY,
  rebuild_id BINARY(16) NOT NULL,
  part VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  what VARCHAR(200) NOT NULL,
  person_id BINARY(16) NOT NULL,
  at DATETIME(6) NOT NULL,
  taken_back_at DATETIME(6) NULL,
  KEY repairs_of (rebuild_id),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Pictures as evidence: what lists read stands here, the bytes stand in a table of their own.
CREATE TABLE IF NOT EXISTS pictures (
  id BINARY(16) PRIMARY KEY,
  rebuild_id BINARY(16) NOT NULL,
  question VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  bytes INT NOT NULL,
  sha256 CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  person_id BINARY(16) NOT NULL,
  at DATETIME(6) NOT NULL,
  taken_away_at DATETIME(6) NULL,
  KEY pictures_of (rebuild_id, question),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS picture_bodies (
  picture_id BINARY(16) PRIMARY KEY,
  whole MEDIUMBLOB NOT NULL,
  small MEDIUMBLOB NOT NULL,
  FOREIGN KEY (picture_id) REFERENCES pictures (id)
) ENGINE=InnoDB;
