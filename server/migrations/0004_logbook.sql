-- Everything anybody did. Each entry holds the hash of the one before it, so that a missing or altered one is found.
CREATE TABLE logbook (
  number bigint PRIMARY KEY,
  at timestamptz NOT NULL,
  who text NOT NULL,
  whence text NOT NULL,
  act text NOT NULL,
  kind text,
  item integer,
  name text,
  sentence text NOT NULL,
  -- As canonical JSON texts: what they were hashed as.
  old text,
  new text,
  -- Of a version of the configuration: its number.
  version integer,
  previous bytea NOT NULL,
  hash bytea NOT NULL
);
CREATE INDEX logbook_by_time ON logbook (at);
CREATE INDEX logbook_by_item ON logbook (kind, item);
