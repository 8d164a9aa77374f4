DELETE FROM readings WHERE sheet_id IN (SELECT id FROM sheets WHERE act <> '');
DELETE FROM sheets WHERE act <> '';
ALTER TABLE readings MODIFY cell VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE sheets DROP INDEX place_of_sheet, ADD UNIQUE KEY sheet_place (rebuild_id, seat, kind);
ALTER TABLE sheets MODIFY kind VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL;
ALTER TABLE sheets DROP COLUMN given, DROP COLUMN act;
