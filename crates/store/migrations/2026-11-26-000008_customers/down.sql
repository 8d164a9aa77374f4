ALTER TABLE people DROP COLUMN customer_id;
ALTER TABLE rebuilds DROP KEY rebuilds_of_customer, DROP COLUMN serial, DROP COLUMN customer_id;
DELETE FROM shop_journal WHERE chain = 'customers';
DELETE FROM shop_chains WHERE name = 'customers';
DROP TABLE customers;
