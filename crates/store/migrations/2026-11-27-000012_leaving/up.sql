-- What leaves the house and comes into it. A rebuild, a machine type or an instrument that came with an archive says from
-- which shop; it is empty for what is from here, and counts as not there in every digest that was made before.
ALTER TABLE rebuilds ADD COLUMN IF NOT EXISTS origin VARCHAR(120) NOT NULL DEFAULT '';
ALTER TABLE rebuilds DROP INDEX IF EXISTS number, ADD UNIQUE KEY IF NOT EXISTS number_of_rebuild (number, origin);
ALTER TABLE anatomies ADD COLUMN IF NOT EXISTS origin VARCHAR(120) NOT NULL DEFAULT '';
ALTER TABLE anatomies DROP INDEX IF EXISTS anatomy_version, ADD UNIQUE KEY IF NOT EXISTS version_of_anatomy (type_key, version, origin);
ALTER TABLE instruments ADD COLUMN IF NOT EXISTS origin VARCHAR(120) NOT NULL DEFAULT '';

-- Keys for other programs: what is kept of one is a hash.
CREATE TABLE IF NOT EXISTS tokens (
  id BINARY(16) NOT NULL PRIMARY KEY,
  person_id BINARY(16) NOT NULL,
  name VARCHAR(80) NOT NULL,
  scopes VARCHAR(80) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  secret_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
  made_at DATETIME(6) NOT NULL,
  used_at DATETIME(6) NULL,
  put_away_at DATETIME(6) NULL,
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB;

-- Files that were handed in and are looked at before anything of them is kept; they go after a day.
CREATE TABLE IF NOT EXISTS uploads (
  id BINARY(16) NOT NULL PRIMARY KEY,
  person_id BINARY(16) NOT NULL,
  kind VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(160) NOT NULL,
  at DATETIME(6) NOT NULL,
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB;
CREATE TABLE IF NOT EXISTS upload_parts (
  upload_id BINARY(16) NOT NULL,
  n INT NOT NULL,
  body MEDIUMBLOB NOT NULL,
  PRIMARY KEY (upload_id, n),
  FOREIGN KEY (upload_id) REFERENCES uploads (id) ON DELETE CASCADE
) ENGINE=InnoDB;

-- Shim leaves that lie in the drawer, and the places of bolts of covers that are no circle.
CREATE TABLE IF NOT EXISTS leaves (
  um INT NOT NULL PRIMARY KEY,
  pieces INT NOT NULL
) ENGINE=InnoDB;
CREATE TABLE IF NOT EXISTS bolt_patterns (
  id BINARY(16) NOT NULL PRIMARY KEY,
  name VARCHAR(80) NOT NULL UNIQUE,
  document MEDIUMTEXT NOT NULL
) ENGINE=InnoDB;

-- What becomes of the parts that were looked at; the newest of a part stands.
CREATE TABLE IF NOT EXISTS dispositions (
  id BINARY(16) NOT NULL PRIMARY KEY,
  rebuild_id BINARY(16) NOT NULL,
  part VARCHAR(40) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  fate VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  reason VARCHAR(400) NOT NULL,
  marks VARCHAR(400) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  person_id BINARY(16) NOT NULL,
  at DATETIME(6) NOT NULL,
  KEY of_rebuild (rebuild_id, at),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB;
