-- Who may do what.
CREATE TABLE account (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL UNIQUE,
  password_hash text NOT NULL,
  scopes text[] NOT NULL
);
CREATE TABLE access_key (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL,
  scopes text[] NOT NULL,
  key_hash text NOT NULL UNIQUE,
  created_at timestamptz NOT NULL DEFAULT now(),
  created_by text NOT NULL
);

-- What is collected. One version number covers all of it; it moves with every change that is put in force.
CREATE TABLE configuration (
  only_row boolean PRIMARY KEY DEFAULT true CHECK (only_row),
  version integer NOT NULL
);
INSERT INTO configuration (version) VALUES (1);
CREATE TABLE source (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL UNIQUE,
  kind text NOT NULL,
  connection jsonb NOT NULL
);
CREATE TABLE tag (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL UNIQUE,
  type text NOT NULL,
  unit text NOT NULL,
  description text NOT NULL,
  place text NOT NULL,
  stepped boolean NOT NULL,
  low double precision,
  high double precision,
  states jsonb,
  source_id integer REFERENCES source,
  collection jsonb,
  in_force_since timestamptz NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX tag_by_place ON tag (place, name);

-- The journal: every entry in the order in which it was committed. (tx, id) is that order: an id alone may become
-- visible after a higher one, a transaction number below the oldest running one cannot.
CREATE SEQUENCE journal_entry_id;
CREATE TABLE journal_entry (
  day date NOT NULL DEFAULT (now() AT TIME ZONE 'UTC')::date,
  id bigint NOT NULL DEFAULT nextval('journal_entry_id'),
  tx xid8 NOT NULL DEFAULT pg_current_xact_id(),
  writer text NOT NULL,
  sequence bigint,
  origin smallint NOT NULL,
  received_at timestamptz NOT NULL DEFAULT clock_timestamp(),
  samples integer NOT NULL,
  first_time bigint,
  last_time bigint,
  tags integer[],
  frame bytea COMPRESSION lz4,
  -- Why an entry was made, where a person or a program said so.
  reason text
) PARTITION BY RANGE (day);
CREATE INDEX journal_entry_order ON journal_entry (tx, id);

-- Each writer's last committed sequence number: what makes delivery exactly once.
CREATE TABLE journal_writer (
  writer text PRIMARY KEY,
  sequence bigint NOT NULL
);

-- How far the journal is posted to the ledger. Moves in the same transaction as the blocks.
CREATE TABLE posting (
  only_row boolean PRIMARY KEY DEFAULT true CHECK (only_row),
  tx xid8 NOT NULL,
  id bigint NOT NULL,
  posted_samples bigint NOT NULL DEFAULT 0,
  posted_at timestamptz NOT NULL DEFAULT now()
);
INSERT INTO posting (tx, id) VALUES ('0', 0);

-- The ledger: per tag, in time order, in blocks that do not overlap and do not cross a UTC month.
CREATE TABLE ledger_block (
  tag_id integer NOT NULL,
  first_time bigint NOT NULL,
  last_time bigint NOT NULL,
  samples integer NOT NULL,
  good_samples integer NOT NULL,
  least double precision,
  greatest double precision,
  total double precision,
  frame bytea COMPRESSION lz4 NOT NULL,
  uncertain_samples integer NOT NULL,
  -- core's RunSummary in 22 doubles; null where the block has to be opened.
  summary bytea,
  PRIMARY KEY (tag_id, first_time)
) PARTITION BY RANGE (first_time);
-- Summaries are read by the thousand without the frames.
ALTER TABLE ledger_block ALTER COLUMN summary SET STORAGE PLAIN;

-- Values that a later entry has taken the place of.
CREATE TABLE modified_sample (
  tag_id integer NOT NULL,
  time bigint NOT NULL,
  value double precision,
  text text,
  status bigint NOT NULL,
  origin smallint NOT NULL,
  kind text NOT NULL,
  modified_by text NOT NULL,
  modified_at timestamptz NOT NULL,
  reason text
) PARTITION BY RANGE (time);
CREATE INDEX modified_sample_by_time ON modified_sample (tag_id, time);

CREATE SEQUENCE annotation_id;
CREATE TABLE annotation (
  id bigint NOT NULL DEFAULT nextval('annotation_id'),
  tag_id integer NOT NULL,
  time bigint NOT NULL,
  text text NOT NULL,
  written_by text NOT NULL,
  written_at timestamptz NOT NULL DEFAULT now()
) PARTITION BY RANGE (time);
CREATE INDEX annotation_by_time ON annotation (tag_id, time);

-- Values refused but not lost.
CREATE TABLE set_aside (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  at timestamptz NOT NULL DEFAULT now(),
  writer text NOT NULL,
  tag text NOT NULL,
  time bigint,
  value text NOT NULL,
  status bigint,
  reason text NOT NULL
);

-- Coverage: a watch is one unbroken span of one source under one version; ten thousand tags cost one row.
CREATE TABLE watch (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  source_id integer NOT NULL,
  version integer NOT NULL,
  origin smallint NOT NULL,
  since bigint NOT NULL,
  until bigint NOT NULL
);
CREATE INDEX watch_by_end ON watch (source_id, until);
-- What could not be watched, as the collector reported it; a tag's own outage is the exception to its source's watch.
CREATE TABLE outage (
  source_id integer NOT NULL,
  tag_id integer NOT NULL DEFAULT 0,
  since bigint NOT NULL,
  until bigint,
  cause text NOT NULL,
  sentence text NOT NULL,
  code text,
  recoverable boolean NOT NULL,
  PRIMARY KEY (source_id, tag_id, since)
);

CREATE TABLE job (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  key text NOT NULL UNIQUE,
  title text NOT NULL,
  state text NOT NULL,
  done double precision NOT NULL,
  total double precision NOT NULL,
  unit text NOT NULL,
  sentence text NOT NULL,
  started_at timestamptz NOT NULL DEFAULT now(),
  updated_at timestamptz NOT NULL DEFAULT now()
);

-- Places where time series are kept. The first one is this database; the others are reached by their sealed URL.
CREATE TABLE store (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL UNIQUE,
  sealed_url text,
  retention_months integer CHECK (retention_months > 0),
  keeps_since bigint
);
INSERT INTO store (name) VALUES ('Embedded');
ALTER TABLE tag ADD COLUMN store_id integer NOT NULL DEFAULT 1 REFERENCES store;
CREATE INDEX tag_by_store ON tag (store_id);
-- How aggregates of the tag are computed where a request does not say; null: the standard's defaults.
ALTER TABLE tag ADD COLUMN aggregate_configuration jsonb;
-- Which site a store database serves: tag numbers are that site's own.
CREATE TABLE store_owner (only_row boolean PRIMARY KEY DEFAULT true CHECK (only_row), site text NOT NULL);

-- A tag on its way to another store, so that a stopped move is taken up again.
CREATE TABLE tag_move (
  tag_id integer PRIMARY KEY REFERENCES tag,
  from_store integer NOT NULL REFERENCES store,
  to_store integer NOT NULL REFERENCES store,
  state text NOT NULL CHECK (state IN ('copying', 'switched')),
  started_by text NOT NULL,
  started_at timestamptz NOT NULL DEFAULT now()
);

-- SQL as a way in: its functions and views are in functions/.
CREATE SCHEMA history;
