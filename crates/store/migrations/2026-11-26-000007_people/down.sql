ALTER TABLE people DROP COLUMN put_away_at, DROP COLUMN code_until, DROP COLUMN code_hash;
