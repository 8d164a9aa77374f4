-- A person sets password and PIN with a one-time code; whoever leaves is put away, never deleted: signatures stay.
ALTER TABLE people
  ADD COLUMN IF NOT EXISTS code_hash VARCHAR(255) CHARACTER SET ascii COLLATE ascii_bin NULL,
  ADD COLUMN IF NOT EXISTS code_until DATETIME(6) NULL,
  ADD COLUMN IF NOT EXISTS put_away_at DATETIME(6) NULL;
