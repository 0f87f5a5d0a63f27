-- How often it has changed where a store keeps months: whoever posts remembers where they are as long as this stands.
ALTER TABLE posting ADD COLUMN layout bigint NOT NULL DEFAULT 0;
