-- The journal: taking entries in, and how far it is complete.
--
-- Entries are numbered by a sequence, and posted in that order. A lower number can become visible after a higher one, so
-- posting has to know below which number nothing is still to come. Whoever appends holds, until its transaction ends, a
-- shared advisory lock on a number that is at most its own: the next one at the moment before it takes one. Advisory
-- locks are a database's own, so no other database of the cluster matters, and no transaction that appends nothing.
-- Every other advisory lock of Wide Ledger takes two keys, which PostgreSQL keeps apart from these.

-- Makes the journal's table of a day.
CREATE OR REPLACE FUNCTION ensure_journal_day(wanted date) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  IF to_regclass(format('journal_entry_%s', to_char(wanted, 'YYYYMMDD'))) IS NULL THEN
    PERFORM pg_advisory_xact_lock(7000, 1);
    EXECUTE format('CREATE TABLE IF NOT EXISTS journal_entry_%s PARTITION OF journal_entry FOR VALUES FROM (%L) TO (%L)',
      to_char(wanted, 'YYYYMMDD'), wanted, wanted + 1);
  END IF;
END $$;

-- The number of the last entry that was ever begun.
CREATE OR REPLACE FUNCTION journal_last() RETURNS bigint LANGUAGE sql VOLATILE AS $$
  SELECT CASE WHEN is_called THEN last_value ELSE last_value - 1 END FROM journal_entry_id
$$;

-- Up to which number the journal is complete: every entry up to it is committed, or will never be. To be asked in a
-- statement of its own, before the one that reads the entries: what was committed in between is then seen.
-- The last number is read first: an appending transaction that does not show its lock yet takes a higher one.
CREATE OR REPLACE FUNCTION journal_frontier() RETURNS bigint LANGUAGE plpgsql VOLATILE AS $$
DECLARE
  last bigint := journal_last();
  open bigint;
BEGIN
  SELECT min((l.classid::bigint << 32) | l.objid::bigint) INTO open
    FROM pg_locks l JOIN pg_stat_activity a ON a.pid = l.pid
    WHERE l.locktype = 'advisory' AND l.objsubid = 1 AND l.classid < 2147483648 AND l.granted
      AND l.database = (SELECT oid FROM pg_database WHERE datname = current_database())
      -- A stranger's locks, such as a SQL reader's, hold up nothing.
      AND a.usename = current_user;
  RETURN least(last, open - 1);
END $$;

DROP FUNCTION IF EXISTS append_entry(text, bigint, smallint, integer, bigint, bigint, integer[], bytea, jsonb, jsonb, jsonb, text);
DROP FUNCTION IF EXISTS append_entry(text, bigint, smallint, integer, bigint, bigint, integer[], bytea, jsonb, jsonb, jsonb, text, jsonb);
DROP FUNCTION IF EXISTS append_entry(text, bigint, smallint, integer, bigint, bigint, integer[], bytea, jsonb, jsonb, jsonb, text, jsonb, text[]);

-- Takes note of what became of stretches that were missed. What holds for a source as a whole takes the place of the same
-- said of its tags one by one; touching stretches of one outcome are one.
CREATE OR REPLACE FUNCTION note_recoveries(recoveries jsonb) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  said record;
BEGIN
  FOR said IN SELECT source, coalesce(tag, 0) AS tag, since, until, outcome, coalesce(sentence, '') AS sentence
    FROM jsonb_to_recordset(recoveries) AS r(source int, tag int, since bigint, until bigint, outcome text, sentence text) LOOP
    IF said.outcome = 'settled' THEN
      DELETE FROM recovery WHERE source_id = said.source AND tag_id = said.tag AND outcome = 'wanted'
        AND until > said.since AND until <= said.until AND since >= said.since;
      CONTINUE;
    END IF;
    IF said.tag = 0 AND said.outcome <> 'wanted' THEN
      DELETE FROM recovery WHERE source_id = said.source AND outcome = said.outcome
        AND until > said.since AND until <= said.until AND since >= said.since;
    END IF;
    UPDATE recovery SET until = greatest(until, said.until), since = least(since, said.since)
      WHERE id = (SELECT r.id FROM recovery r WHERE r.source_id = said.source AND r.tag_id = said.tag AND r.outcome = said.outcome
                    AND r.sentence = said.sentence AND r.until >= said.since AND r.since <= said.until LIMIT 1);
    IF NOT FOUND THEN
      INSERT INTO recovery (source_id, tag_id, since, until, outcome, sentence)
        VALUES (said.source, said.tag, said.since, said.until, said.outcome, said.sentence);
    END IF;
  END LOOP;
END $$;

-- Adds one entry with its coverage in one round trip. Returns its number, or NULL when the writer has delivered this
-- sequence number before. Acknowledged when its transaction is committed.
CREATE FUNCTION append_entry(
  by_writer text, at_sequence bigint, of_origin smallint, sample_count integer, from_time bigint, to_time bigint,
  of_tags integer[], frame_bytes bytea, watches jsonb, outages jsonb, refused jsonb, given_reason text,
  recoveries jsonb DEFAULT '[]', came_via text[] DEFAULT NULL
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
  PERFORM pg_advisory_xact_lock_shared(journal_last() + 1);
  entry_id := nextval('journal_entry_id');
  INSERT INTO journal_entry (id, writer, sequence, origin, samples, first_time, last_time, tags, frame, reason, via)
    VALUES (entry_id, by_writer, at_sequence, of_origin, sample_count, from_time, to_time, of_tags, frame_bytes, given_reason, came_via);
  FOR span IN SELECT * FROM jsonb_to_recordset(watches) AS w(source int, version int, origin smallint, since bigint, until bigint) LOOP
    UPDATE watch SET until = span.until
      WHERE id = (SELECT w.id FROM watch w WHERE w.source_id = span.source AND w.until = span.since
                    AND w.version = span.version AND w.origin = span.origin LIMIT 1);
    IF NOT FOUND THEN
      INSERT INTO watch (source_id, version, origin, since, until)
        VALUES (span.source, span.version, span.origin, span.since, span.until);
    END IF;
  END LOOP;
  INSERT INTO outage AS known (source_id, tag_id, since, until, cause, sentence, code, recoverable, within_watch)
    SELECT DISTINCT ON (source, coalesce(tag, 0), since) source, coalesce(tag, 0), since, until, cause, sentence, code, recoverable, coalesce(within, false)
    FROM ROWS FROM (jsonb_to_recordset(outages)
        AS (source int, tag int, since bigint, until bigint, cause text, sentence text, code text, recoverable boolean, within boolean))
      WITH ORDINALITY AS o(source, tag, since, until, cause, sentence, code, recoverable, within, place)
    ORDER BY source, coalesce(tag, 0), since, place DESC
    ON CONFLICT (source_id, tag_id, since) DO UPDATE
      SET until = coalesce(excluded.until, known.until), sentence = excluded.sentence, code = excluded.code;
  PERFORM note_recoveries(recoveries);
  INSERT INTO set_aside (writer, tag, time, value, status, reason)
    SELECT by_writer, tag, "time", value, status, reason
    FROM jsonb_to_recordset(refused) AS r(tag text, "time" bigint, value text, status bigint, reason text);
  RETURN entry_id;
END $$;
