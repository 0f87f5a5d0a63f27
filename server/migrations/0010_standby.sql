-- A second collector may read a source, or a copy of it, and stand ready.
ALTER TABLE source ADD COLUMN standby text, ADD COLUMN standby_connection jsonb;
--> statement-breakpoint
-- Values that were set aside are looked for by their time.
CREATE INDEX set_aside_by_time ON set_aside (time);
--> statement-breakpoint
-- Which collector records a source that several read, since what other one's watch ended; the epoch goes up when it changes.
CREATE TABLE source_lease (
  source_id integer PRIMARY KEY,
  holder text NOT NULL,
  epoch integer NOT NULL,
  since bigint,
  taken_at timestamptz NOT NULL DEFAULT now()
);
