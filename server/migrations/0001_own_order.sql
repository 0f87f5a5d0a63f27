-- The journal's order becomes its own, stores get an identity, entries a quarantine, jobs what they need to go on, and
-- the months of the ledger that hold little one table.

-- What hung on the old order. The functions of now are applied after the migrations.
DROP VIEW IF EXISTS history.tag, history.coverage, history.gap, history.entry, history.hourly, history.modified, history.annotation;
DROP FUNCTION IF EXISTS history.sample(text, timestamptz, timestamptz);
DROP FUNCTION IF EXISTS append_entry(text, bigint, smallint, integer, bigint, bigint, integer[], bytea, jsonb, jsonb, jsonb, text);

-- Entries were posted in the order of (transaction, number). From here on their number alone is the order: where the two
-- differ the entries are numbered anew. How the old order maps to the new one stays, for the marks of further stores.
CREATE TABLE journal_order_before (tx xid8 NOT NULL, id bigint NOT NULL, number bigint NOT NULL, PRIMARY KEY (tx, id));
INSERT INTO journal_order_before (tx, id, number)
  SELECT tx, id, CASE WHEN bool_or(turned) OVER () THEN (SELECT last_value FROM journal_entry_id) + place ELSE id END
  FROM (SELECT tx, id, row_number() OVER (ORDER BY tx, id) AS place,
               coalesce(id < lag(id) OVER (ORDER BY tx, id), false) AS turned FROM journal_entry) AS old;
UPDATE journal_entry j SET id = b.number FROM journal_order_before b WHERE b.tx = j.tx AND b.id = j.id AND b.number <> b.id;
SELECT setval('journal_entry_id', max(number)) FROM journal_order_before HAVING max(number) > (SELECT last_value FROM journal_entry_id);
ALTER TABLE journal_entry DROP COLUMN tx;
CREATE INDEX journal_entry_order ON journal_entry (id);

-- The mark: the number of the last entry that is posted. Null in a further store until its site has translated it.
ALTER TABLE posting ADD COLUMN entry bigint;
ALTER TABLE posting RENAME COLUMN tx TO before_tx;
ALTER TABLE posting RENAME COLUMN id TO before_id;
ALTER TABLE posting ALTER COLUMN before_tx SET DEFAULT '0', ALTER COLUMN before_id SET DEFAULT 0;
UPDATE posting p SET entry = CASE
  WHEN before_tx = '0' THEN 0
  WHEN (SELECT is_called FROM journal_entry_id) THEN coalesce(
    (SELECT max(number) FROM journal_order_before b WHERE (b.tx, b.id) <= (p.before_tx, p.before_id)),
    (SELECT min(number) - 1 FROM journal_order_before), (SELECT last_value FROM journal_entry_id))
  END;

-- Which store this database is, and of which site. A site knows its own stores by their identity.
ALTER TABLE store_owner RENAME TO store_identity;
ALTER TABLE store_identity ADD COLUMN identity uuid NOT NULL DEFAULT gen_random_uuid();
ALTER TABLE store ADD COLUMN identity uuid UNIQUE;

-- Entries that cannot be posted, kept whole until somebody decides.
CREATE TABLE quarantine (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  store_id integer NOT NULL REFERENCES store,
  entry bigint NOT NULL,
  writer text NOT NULL,
  origin smallint NOT NULL,
  received_at timestamptz NOT NULL,
  samples integer NOT NULL,
  first_time bigint,
  last_time bigint,
  tags integer[],
  frame bytea COMPRESSION lz4,
  reason text,
  failure text NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  decision text,
  decided_by text,
  decided_at timestamptz,
  UNIQUE (store_id, entry)
);

-- Long work: what it is to do, how far it is, what came of it, and who is at it.
ALTER TABLE job ADD COLUMN kind text NOT NULL DEFAULT 'reported';
ALTER TABLE job ADD COLUMN plan jsonb;
ALTER TABLE job ADD COLUMN cursor jsonb;
ALTER TABLE job ADD COLUMN report jsonb;
ALTER TABLE job ADD COLUMN started_by text;
ALTER TABLE job ADD COLUMN worker uuid;
ALTER TABLE job ADD COLUMN held_until timestamptz;
ALTER TABLE job ADD COLUMN attempts integer NOT NULL DEFAULT 0;
-- Asked for while it was worked on: it is done once more.
ALTER TABLE job ADD COLUMN again boolean NOT NULL DEFAULT false;
CREATE INDEX job_by_state ON job (state) WHERE state IN ('waiting', 'running', 'stopping', 'pausing');

-- Time within a watch in which nothing was read, as it was found afterwards.
ALTER TABLE outage ADD COLUMN within_watch boolean NOT NULL DEFAULT false;

-- What is known of a tag that counts.
ALTER TABLE tag ADD COLUMN counter jsonb;

-- Which table holds a tag's month.
CREATE TABLE ledger_month (
  tag_id integer NOT NULL,
  month bigint NOT NULL,
  part text NOT NULL,
  PRIMARY KEY (tag_id, month)
);
INSERT INTO ledger_month (tag_id, month, part)
  SELECT DISTINCT tag_id, extract(epoch FROM month)::bigint * 1000000, to_char(month, 'YYYYMM')
  FROM (SELECT tag_id, date_trunc('month', timestamp 'epoch' + first_time * interval '1 microsecond') AS month FROM ledger_block) AS held;
CREATE TABLE ledger_block_rest (LIKE ledger_block INCLUDING ALL);
CREATE INDEX ledger_block_rest_by_time ON ledger_block_rest (first_time);

-- Old values and annotations are few: one table each, instead of one a month.
CREATE TABLE modified_sample_whole (LIKE modified_sample INCLUDING DEFAULTS);
INSERT INTO modified_sample_whole SELECT * FROM modified_sample;
DROP TABLE modified_sample;
ALTER TABLE modified_sample_whole RENAME TO modified_sample;
CREATE INDEX modified_sample_by_time ON modified_sample (tag_id, time);
CREATE TABLE annotation_whole (LIKE annotation INCLUDING DEFAULTS);
INSERT INTO annotation_whole SELECT * FROM annotation;
DROP TABLE annotation;
ALTER TABLE annotation_whole RENAME TO annotation;
CREATE INDEX annotation_by_time ON annotation (tag_id, time);

-- SQL texts of functions and views that were applied last: they are applied again when they change.
CREATE TABLE applied_functions (only_row boolean PRIMARY KEY DEFAULT true CHECK (only_row), print text NOT NULL);
