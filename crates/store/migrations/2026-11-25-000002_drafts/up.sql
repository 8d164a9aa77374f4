-- A machine type being drawn. Every change is a row of draft_states; undo and redo move the cursor.
CREATE TABLE IF NOT EXISTS drafts (
  id BINARY(16) PRIMARY KEY,
  type_key VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name VARCHAR(160) NOT NULL,
  cursor_at INT NOT NULL,
  person_id BINARY(16) NOT NULL,
  changed_at DATETIME(6) NOT NULL,
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS draft_states (
  draft_id BINARY(16) NOT NULL,
  seq INT NOT NULL,
  said VARCHAR(160) NOT NULL,
  document JSON NOT NULL,
  PRIMARY KEY (draft_id, seq),
  FOREIGN KEY (draft_id) REFERENCES drafts (id) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
