-- Steps of the derived trail that are done; the steps themselves follow from the anatomy and are not stored.
CREATE TABLE IF NOT EXISTS ticks (
  rebuild_id BINARY(16) NOT NULL,
  step VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  person_id BINARY(16) NOT NULL,
  second_name VARCHAR(120) NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (rebuild_id, step),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- As found: the newest answer of a question; every answer is in the journal.
CREATE TABLE IF NOT EXISTS answers (
  rebuild_id BINARY(16) NOT NULL,
  question VARCHAR(120) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  state VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  value VARCHAR(200) NOT NULL,
  note VARCHAR(400) NOT NULL,
  person_id BINARY(16) NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (rebuild_id, question),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Parts that had to come off again and were scrapped by it.
CREATE TABLE IF NOT EXISTS scrapped (
  rebuild_id BINARY(16) NOT NULL,
  part VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  at DATETIME(6) NOT NULL,
  PRIMARY KEY (rebuild_id, part, at),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
