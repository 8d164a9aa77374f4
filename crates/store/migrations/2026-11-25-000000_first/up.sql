CREATE TABLE IF NOT EXISTS people (
  id BINARY(16) PRIMARY KEY,
  handle VARCHAR(40) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL UNIQUE,
  name VARCHAR(120) NOT NULL,
  initials VARCHAR(4) NOT NULL,
  role VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  password_hash VARCHAR(255) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  pin_hash VARCHAR(255) CHARACTER SET ascii COLLATE ascii_bin NULL,
  units VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  theme VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS sessions (
  id CHAR(22) CHARACTER SET ascii COLLATE ascii_bin PRIMARY KEY,
  record LONGTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  expires_at DATETIME(6) NOT NULL,
  KEY sessions_expiry (expires_at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS sign_in_failures (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  handle VARCHAR(40) CHARACTER SET ascii COLLATE ascii_general_ci NOT NULL,
  at DATETIME(6) NOT NULL,
  KEY failures_by_handle (handle, at)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS shops (
  id SMALLINT PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  demo BOOLEAN NOT NULL,
  rules JSON NOT NULL,
  revision INT NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS instruments (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  outside BOOLEAN NOT NULL,
  inside BOOLEAN NOT NULL,
  depth BOOLEAN NOT NULL,
  lo_mm DOUBLE NOT NULL,
  hi_mm DOUBLE NOT NULL,
  resolution_mm DOUBLE NOT NULL,
  u_mm DOUBLE NOT NULL,
  cost DOUBLE NOT NULL,
  due_on DATE NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS tools (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  bore_mm DOUBLE NOT NULL,
  outside_mm DOUBLE NOT NULL,
  length_mm DOUBLE NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS presses (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(120) NOT NULL,
  capacity_n DOUBLE NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS anatomies (
  id BINARY(16) PRIMARY KEY,
  type_key VARCHAR(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  version INT NOT NULL,
  name VARCHAR(160) NOT NULL,
  document JSON NOT NULL,
  UNIQUE KEY anatomy_version (type_key, version)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS rebuilds (
  id BINARY(16) PRIMARY KEY,
  number VARCHAR(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL UNIQUE,
  title VARCHAR(160) NOT NULL,
  customer VARCHAR(160) NOT NULL,
  anatomy_id BINARY(16) NOT NULL,
  due_on DATE NOT NULL,
  finished_at DATETIME(6) NULL,
  journal_seq INT NOT NULL,
  journal_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  KEY rebuilds_open (finished_at, due_on),
  FOREIGN KEY (anatomy_id) REFERENCES anatomies (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS steps (
  id BINARY(16) PRIMARY KEY,
  rebuild_id BINARY(16) NOT NULL,
  seat VARCHAR(40) NOT NULL,
  kind VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  position INT NOT NULL,
  done BOOLEAN NOT NULL,
  done_by BINARY(16) NULL,
  done_at DATETIME(6) NULL,
  detail VARCHAR(255) NOT NULL,
  UNIQUE KEY step_place (rebuild_id, seat, kind),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (done_by) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS sheets (
  id BINARY(16) PRIMARY KEY,
  rebuild_id BINARY(16) NOT NULL,
  seat VARCHAR(40) NOT NULL,
  kind VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  instrument_id BINARY(16) NULL,
  UNIQUE KEY sheet_place (rebuild_id, seat, kind),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (instrument_id) REFERENCES instruments (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Append-only: a correction is a new row with the next seq of its cell; nothing here is ever updated or deleted.
CREATE TABLE IF NOT EXISTS readings (
  id BINARY(16) PRIMARY KEY,
  sheet_id BINARY(16) NOT NULL,
  cell VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  seq INT NOT NULL,
  value DOUBLE NOT NULL,
  typed VARCHAR(80) NOT NULL,
  expected DOUBLE NULL,
  instrument_id BINARY(16) NULL,
  person_id BINARY(16) NOT NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE KEY reading_place (sheet_id, cell, seq),
  FOREIGN KEY (sheet_id) REFERENCES sheets (id),
  FOREIGN KEY (instrument_id) REFERENCES instruments (id),
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS calls (
  id BINARY(16) PRIMARY KEY,
  rebuild_id BINARY(16) NOT NULL,
  seat VARCHAR(40) NOT NULL,
  topic VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  verdict VARCHAR(12) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  document JSON NOT NULL,
  overruled_by BINARY(16) NULL,
  overrule_reason VARCHAR(400) NOT NULL,
  at DATETIME(6) NOT NULL,
  UNIQUE KEY call_place (rebuild_id, seat, topic),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (overruled_by) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS clocks (
  id BINARY(16) PRIMARY KEY,
  rebuild_id BINARY(16) NOT NULL,
  seat VARCHAR(40) NOT NULL,
  kind VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  label VARCHAR(160) NOT NULL,
  started_at DATETIME(6) NOT NULL,
  seconds INT NOT NULL,
  ended_at DATETIME(6) NULL,
  person_id BINARY(16) NOT NULL,
  KEY clocks_running (ended_at),
  KEY clocks_of (rebuild_id),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS sign_offs (
  id BINARY(16) PRIMARY KEY,
  rebuild_id BINARY(16) NOT NULL,
  seat VARCHAR(40) NOT NULL,
  person_id BINARY(16) NOT NULL,
  role VARCHAR(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  said VARCHAR(400) NOT NULL,
  at DATETIME(6) NOT NULL,
  KEY sign_offs_of (rebuild_id),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS journal (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  rebuild_id BINARY(16) NOT NULL,
  seq INT NOT NULL,
  at DATETIME(6) NOT NULL,
  person_id BINARY(16) NOT NULL,
  kind VARCHAR(24) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  body LONGTEXT CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  prev_hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  hash CHAR(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  UNIQUE KEY journal_place (rebuild_id, seq),
  FOREIGN KEY (rebuild_id) REFERENCES rebuilds (id),
  FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
