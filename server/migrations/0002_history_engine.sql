-- Blocks that say enough of themselves to be summed up unopened, corrections with their reasons, annotations, stores.

-- core's RunSummary in 22 doubles; null where the block has to be opened. Uncertain samples of blocks written before
-- are counted as if every sample that is not Good were one: looked at once too often, never too seldom.
ALTER TABLE ledger_block ADD COLUMN uncertain_samples integer NOT NULL DEFAULT 0;
ALTER TABLE ledger_block ADD COLUMN summary bytea;
UPDATE ledger_block SET uncertain_samples = samples - good_samples;
ALTER TABLE ledger_block ALTER COLUMN uncertain_samples DROP DEFAULT;
-- Summaries are read by the thousand without the frames.
ALTER TABLE ledger_block ALTER COLUMN summary SET STORAGE PLAIN;

-- Why an entry was made, where a person or a program said so.
ALTER TABLE journal_entry ADD COLUMN reason text;

ALTER TABLE modified_sample RENAME TO modified_sample_before;
DROP INDEX modified_sample_by_time;
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

-- Makes a table's part for the UTC month that begins at this microsecond.
CREATE FUNCTION ensure_month(parent text, month_start bigint) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  start_at timestamp := timestamp 'epoch' + month_start * interval '1 microsecond';
  part text := parent || '_' || to_char(start_at, 'YYYYMM');
  month_end bigint := extract(epoch FROM start_at + interval '1 month')::bigint * 1000000;
BEGIN
  IF to_regclass(part) IS NULL THEN
    PERFORM pg_advisory_xact_lock(7002);
    EXECUTE format('CREATE TABLE IF NOT EXISTS %I PARTITION OF %I FOR VALUES FROM (%s) TO (%s)', part, parent, month_start, month_end);
  END IF;
END $$;
DROP FUNCTION ensure_ledger_month;

SELECT ensure_month('modified_sample', month) FROM (
  SELECT DISTINCT extract(epoch FROM date_trunc('month', timestamp 'epoch' + time * interval '1 microsecond'))::bigint * 1000000 AS month
  FROM modified_sample_before) AS months;
INSERT INTO modified_sample (tag_id, time, value, text, status, origin, kind, modified_by, modified_at)
  SELECT tag_id, time, value, text, status, origin, 'replaced', replaced_by, replaced_at FROM modified_sample_before;
DROP TABLE modified_sample_before;

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

DROP FUNCTION append_entry;
-- Adds one entry with its coverage in one round trip. Returns its id, or NULL when the writer has delivered this
-- sequence number before. Committed when it returns: the caller runs it as a statement of its own.
CREATE FUNCTION append_entry(
  by_writer text, at_sequence bigint, of_origin smallint, sample_count integer, from_time bigint, to_time bigint,
  of_tags integer[], frame_bytes bytea, watches jsonb, outages jsonb, refused jsonb, given_reason text
) RETURNS bigint LANGUAGE plpgsql AS $$
DECLARE
  entry_id bigint;
  span record;
BEGIN
  IF at_sequence IS NOT NULL THEN
    INSERT INTO journal_writer AS known (writer, sequence) VALUES (by_writer, at_sequence)
      ON CONFLICT (writer) DO UPDATE SET sequence = excluded.sequence WHERE known.sequence < excluded.sequence;
    IF NOT FOUND THEN RETURN NULL; END IF;
  END IF;
  entry_id := nextval('journal_entry_id');
  INSERT INTO journal_entry (id, writer, sequence, origin, samples, first_time, last_time, tags, frame, reason)
    VALUES (entry_id, by_writer, at_sequence, of_origin, sample_count, from_time, to_time, of_tags, frame_bytes, given_reason);
  FOR span IN SELECT * FROM jsonb_to_recordset(watches) AS w(source int, version int, origin smallint, since bigint, until bigint) LOOP
    UPDATE watch SET until = span.until
      WHERE id = (SELECT w.id FROM watch w WHERE w.source_id = span.source AND w.until = span.since
                    AND w.version = span.version AND w.origin = span.origin LIMIT 1);
    IF NOT FOUND THEN
      INSERT INTO watch (source_id, version, origin, since, until)
        VALUES (span.source, span.version, span.origin, span.since, span.until);
    END IF;
  END LOOP;
  INSERT INTO outage AS known (source_id, tag_id, since, until, cause, sentence, code, recoverable)
    SELECT source, coalesce(tag, 0), since, until, cause, sentence, code, recoverable
    FROM jsonb_to_recordset(outages) AS o(source int, tag int, since bigint, until bigint, cause text, sentence text, code text, recoverable boolean)
    ON CONFLICT (source_id, tag_id, since) DO UPDATE
      SET until = coalesce(excluded.until, known.until), sentence = excluded.sentence, code = excluded.code;
  INSERT INTO set_aside (writer, tag, time, value, status, reason)
    SELECT by_writer, tag, "time", value, status, reason
    FROM jsonb_to_recordset(refused) AS r(tag text, "time" bigint, value text, status bigint, reason text);
  RETURN entry_id;
END $$;
