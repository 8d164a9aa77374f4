-- Rows are bound to the record: each entry carries digests of the rows that its transaction changed.
ALTER TABLE journal ADD COLUMN IF NOT EXISTS bound MEDIUMTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL DEFAULT '';

-- Tries are counted by name and by where they come from, so that nobody can lock somebody else out.
ALTER TABLE sign_in_failures
  MODIFY COLUMN handle VARCHAR(48) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  ADD COLUMN IF NOT EXISTS address VARCHAR(45) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT '',
  ADD KEY IF NOT EXISTS failures_by_address (address, at);

-- What belongs to no rebuild has chains of its own: people, rules, stores, machine types, and which rebuilds there are.
CREATE TABLE IF NOT EXISTS shop_chains (
  name VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin PRIMARY KEY,
  seq INT NOT NULL,
  hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

INSERT IGNORE INTO shop_chains (name, seq, hash) VALUES
  ('people', 0, '0000000000000000000000000000000000000000000000000000000000000000'),
  ('rules', 0, '0000000000000000000000000000000000000000000000000000000000000000'),
  ('stores', 0, '0000000000000000000000000000000000000000000000000000000000000000'),
  ('types', 0, '0000000000000000000000000000000000000000000000000000000000000000'),
  ('rebuilds', 0, '0000000000000000000000000000000000000000000000000000000000000000');

CREATE TABLE IF NOT EXISTS shop_journal (
  chain VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  seq INT NOT NULL,
  at DATETIME(6) NOT NULL,
  person VARCHAR(120) NOT NULL,
  said VARCHAR(400) NOT NULL,
  bound MEDIUMTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  prev_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (chain, seq),
  FOREIGN KEY (chain) REFERENCES shop_chains (name)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
