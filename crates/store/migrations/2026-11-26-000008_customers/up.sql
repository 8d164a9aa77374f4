-- Whose machines they are. A rebuild keeps the name as it was when it was begun; a viewer belongs to one customer.
CREATE TABLE IF NOT EXISTS customers (
  id BINARY(16) PRIMARY KEY,
  name VARCHAR(160) NOT NULL UNIQUE,
  contact VARCHAR(400) NOT NULL DEFAULT ''
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

INSERT IGNORE INTO customers (id, name)
  SELECT UNHEX(MD5(CONCAT('customer ', name))), name FROM (SELECT MIN(customer) AS name FROM rebuilds GROUP BY customer COLLATE utf8mb4_unicode_ci) AS known;

ALTER TABLE rebuilds
  ADD COLUMN IF NOT EXISTS customer_id BINARY(16) NULL,
  ADD COLUMN IF NOT EXISTS serial VARCHAR(60) NOT NULL DEFAULT '',
  ADD KEY IF NOT EXISTS rebuilds_of_customer (customer_id);
UPDATE rebuilds r JOIN customers c ON c.name = r.customer SET r.customer_id = c.id WHERE r.customer_id IS NULL;

ALTER TABLE people ADD COLUMN IF NOT EXISTS customer_id BINARY(16) NULL;
UPDATE people p JOIN customers c ON c.name = p.name SET p.customer_id = c.id WHERE p.role = 'viewer' AND p.customer_id IS NULL;

INSERT IGNORE INTO shop_chains (name, seq, hash) VALUES ('customers', 0, '0000000000000000000000000000000000000000000000000000000000000000');
