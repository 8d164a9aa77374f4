-- Why an instrument is not taken any more; empty for one in use, and as not there in every digest that was made before.
ALTER TABLE instruments ADD COLUMN IF NOT EXISTS away VARCHAR(160) NOT NULL DEFAULT '';
