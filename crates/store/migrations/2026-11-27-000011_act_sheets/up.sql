-- Sheets of acts: what is read at an act of the trail, by the name of the computation that it ends in. What a person
-- typed beside the readings is a document; the rest is known from the rebuild.
ALTER TABLE sheets ADD COLUMN IF NOT EXISTS act VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '';
ALTER TABLE sheets ADD COLUMN IF NOT EXISTS given MEDIUMTEXT NULL;
ALTER TABLE sheets MODIFY kind VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE sheets DROP INDEX IF EXISTS sheet_place, ADD UNIQUE KEY IF NOT EXISTS place_of_sheet (rebuild_id, seat, act, kind);
ALTER TABLE readings MODIFY cell VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
