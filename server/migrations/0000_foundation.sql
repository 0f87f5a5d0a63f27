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
  frame bytea COMPRESSION lz4
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
  PRIMARY KEY (tag_id, first_time)
) PARTITION BY RANGE (first_time);

-- Values that a later entry has taken the place of.
CREATE TABLE modified_sample (
  tag_id integer NOT NULL,
  time bigint NOT NULL,
  value double precision,
  text text,
  status bigint NOT NULL,
  origin smallint NOT NULL,
  replaced_by text NOT NULL,
  replaced_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX modified_sample_by_time ON modified_sample (tag_id, time);

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

CREATE FUNCTION ensure_journal_day(wanted date) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  IF to_regclass(format('journal_entry_%s', to_char(wanted, 'YYYYMMDD'))) IS NULL THEN
    PERFORM pg_advisory_xact_lock(7001);
    EXECUTE format('CREATE TABLE IF NOT EXISTS journal_entry_%s PARTITION OF journal_entry FOR VALUES FROM (%L) TO (%L)',
      to_char(wanted, 'YYYYMMDD'), wanted, wanted + 1);
  END IF;
END $$;

-- Takes the first microsecond of a UTC month.
CREATE FUNCTION ensure_ledger_month(month_start bigint) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  start_at timestamp := timestamp 'epoch' + month_start * interval '1 microsecond';
  name text := 'ledger_block_' || to_char(start_at, 'YYYYMM');
  month_end bigint := extract(epoch FROM start_at + interval '1 month')::bigint * 1000000;
BEGIN
  IF to_regclass(name) IS NULL THEN
    PERFORM pg_advisory_xact_lock(7002);
    EXECUTE format('CREATE TABLE IF NOT EXISTS %I PARTITION OF ledger_block FOR VALUES FROM (%s) TO (%s)', name, month_start, month_end);
  END IF;
END $$;

-- Adds one entry with its coverage in one round trip. Returns its id, or NULL when the writer has delivered this
-- sequence number before. Committed when it returns: the caller runs it as a statement of its own.
CREATE FUNCTION append_entry(
  by_writer text, at_sequence bigint, of_origin smallint, sample_count integer, from_time bigint, to_time bigint,
  of_tags integer[], frame_bytes bytea, watches jsonb, outages jsonb, refused jsonb
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
  INSERT INTO journal_entry (id, writer, sequence, origin, samples, first_time, last_time, tags, frame)
    VALUES (entry_id, by_writer, at_sequence, of_origin, sample_count, from_time, to_time, of_tags, frame_bytes);
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
