DROP TABLE shop_journal;
DROP TABLE shop_chains;
ALTER TABLE sign_in_failures DROP KEY failures_by_address, DROP COLUMN address;
ALTER TABLE journal DROP COLUMN bound;
