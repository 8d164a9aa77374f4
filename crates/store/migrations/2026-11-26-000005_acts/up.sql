-- Ticks stand for acts of the derivation; those of an older derivation are given their newer names once.
ALTER TABLE rebuilds ADD COLUMN IF NOT EXISTS derivation INT NOT NULL DEFAULT 1;
ALTER TABLE rebuilds ALTER COLUMN derivation SET DEFAULT 2;

-- What was read when an act was ticked with several readings, set apart by blanks.
ALTER TABLE ticks ADD COLUMN IF NOT EXISTS readings VARCHAR(200) NOT NULL DEFAULT '';
-- The end that a part with two faces was left facing, as somebody said it: A, B, or nothing.
ALTER TABLE ticks ADD COLUMN IF NOT EXISTS faces VARCHAR(1) NOT NULL DEFAULT '';

-- Rounds: a reading outside its limits took a shim out again. Append-only.
CREATE TABLE IF NOT EXISTS rounds (
  rebuild_id BINARY(16) NOT NULL,
  n INT NOT NULL,
  document LONGTEXT NOT NULL CHECK (json_valid(document)),
  person_id BINARY(16) NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (rebuild_id, n),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
