-- The ledger's tables: a month that holds much, or is the present, has a table of its own; the months that hold little
-- share `ledger_block_rest`. Which of them holds a tag's month stands in `ledger_month`: whoever reads or writes goes
-- there by name, so that neither plans nor locks grow with the age of the archive.

-- Makes the table of the UTC month that begins at this microsecond; returns its part's name, YYYYMM.
CREATE OR REPLACE FUNCTION ensure_ledger_month(month_start bigint) RETURNS text LANGUAGE plpgsql AS $$
DECLARE
  start_at timestamp := timestamp 'epoch' + month_start * interval '1 microsecond';
  part text := to_char(start_at, 'YYYYMM');
  month_end bigint := extract(epoch FROM start_at + interval '1 month')::bigint * 1000000;
BEGIN
  IF to_regclass('ledger_block_' || part) IS NULL THEN
    PERFORM pg_advisory_xact_lock(7000, 2);
    EXECUTE format('CREATE TABLE IF NOT EXISTS %I PARTITION OF ledger_block FOR VALUES FROM (%s) TO (%s)',
      'ledger_block_' || part, month_start, month_end);
  END IF;
  RETURN part;
END $$;
DROP FUNCTION IF EXISTS ensure_month(text, bigint);

-- The blocks of a tag that overlap [lo, hi), out of the tables that hold some.
CREATE OR REPLACE FUNCTION history.ledger_overlap(tag integer, lo bigint, hi bigint)
RETURNS TABLE (first_time bigint, last_time bigint, samples integer, good_samples integer,
               "least" double precision, "greatest" double precision, total double precision, frame bytea)
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
DECLARE
  part_name text;
  month_lo bigint := extract(epoch FROM date_trunc('month', timestamp 'epoch' + lo * interval '1 microsecond'))::bigint * 1000000;
BEGIN
  FOR part_name IN SELECT DISTINCT m.part FROM ledger_month m WHERE m.tag_id = tag AND m.month >= month_lo AND m.month < hi LOOP
    RETURN QUERY EXECUTE format('SELECT b.first_time, b.last_time, b.samples, b.good_samples, b.least, b.greatest, b.total, b.frame
      FROM %I b WHERE b.tag_id = $1 AND b.first_time >= $2 AND b.first_time < $3 AND b.last_time >= $4', 'ledger_block_' || part_name)
      USING tag, month_lo, hi, lo;
  END LOOP;
END $$;

-- Every block, wherever it is kept: for counts over the whole archive, whose plan grows with it.
CREATE OR REPLACE VIEW every_block AS
  SELECT tag_id, first_time, last_time, samples, good_samples, uncertain_samples, least, greatest, total, summary, frame FROM ledger_block
  UNION ALL
  SELECT tag_id, first_time, last_time, samples, good_samples, uncertain_samples, least, greatest, total, summary, frame FROM ledger_block_rest;

-- What the ledger takes up, and about how many blocks it has, without a look into them. As PostgreSQL keeps its figures.
CREATE OR REPLACE FUNCTION ledger_bytes() RETURNS bigint LANGUAGE sql STABLE AS $$
  SELECT coalesce(sum(pg_total_relation_size(c.oid)), 0)::bigint FROM pg_class c
  WHERE c.relnamespace = 'public'::regnamespace AND c.relkind = 'r' AND c.relname LIKE 'ledger\_block\_%'
$$;
CREATE OR REPLACE FUNCTION ledger_blocks() RETURNS bigint LANGUAGE sql STABLE AS $$
  SELECT coalesce(sum(greatest(c.reltuples, pg_stat_get_live_tuples(c.oid)::real, 0)), 0)::bigint FROM pg_class c
  WHERE c.relnamespace = 'public'::regnamespace AND c.relkind = 'r' AND c.relname LIKE 'ledger\_block\_%'
$$;
