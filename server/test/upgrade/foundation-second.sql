--
-- PostgreSQL database dump
--

\restrict s3EUj24PRvZT2gf4FbhHdn2lajzJAoXncShgXsRmmFTAERjEtYOSbSgNdUej379

-- Dumped from database version 15.18 (Debian 15.18-0+deb12u1)
-- Dumped by pg_dump version 15.18 (Debian 15.18-0+deb12u1)

SET statement_timeout = 0;
SET lock_timeout = 0;
SET idle_in_transaction_session_timeout = 0;
SET client_encoding = 'UTF8';
SET standard_conforming_strings = on;
SELECT pg_catalog.set_config('search_path', '', false);
SET check_function_bodies = false;
SET xmloption = content;
SET client_min_messages = warning;
SET row_security = off;

--
-- Name: drizzle; Type: SCHEMA; Schema: -; Owner: -
--

CREATE SCHEMA drizzle;


--
-- Name: history; Type: SCHEMA; Schema: -; Owner: -
--

CREATE SCHEMA history;


--
-- Name: decode_frame(bytea); Type: FUNCTION; Schema: history; Owner: -
--

CREATE FUNCTION history.decode_frame(given bytea) RETURNS TABLE(tag bigint, micros bigint, value double precision, label text, status bigint, origin smallint)
    LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE
    AS $$
DECLARE
  raw bytea := given || ''::bytea; -- detoasted once, not at every byte
  pos int := 2;
  flags int := get_byte(raw, 1);
  n int; i int; j int; k int; b int;
  r bigint; f int;
  mode int; unit bigint; at bigint; step bigint;
  times bigint[]; vals double precision[]; stats bigint[]; tags bigint[]; origs smallint[]; texts text[]; digits text[]; holes int[];
  dict double precision[]; scale double precision; bits bigint; e int; v double precision; plane int;
BEGIN
  IF get_byte(raw, 0) <> 49 THEN RAISE EXCEPTION 'this is not a frame of version 0x31'; END IF;
  n := 0; f := 0;
  LOOP b := get_byte(raw, pos); pos := pos + 1; n := n | ((b & 127) << f); EXIT WHEN b < 128; f := f + 7; END LOOP;
  times := array_fill(0::bigint, ARRAY[n]);
  vals := array_fill(0::double precision, ARRAY[n]);

  -- times
  mode := get_byte(raw, pos); pos := pos + 1;
  IF mode = 3 THEN
    FOR i IN 0 .. n - 1 LOOP
      bits := 0;
      FOR plane IN REVERSE 7 .. 0 LOOP bits := (bits << 8) | get_byte(raw, pos + plane * n + i); END LOOP;
      e := ((bits >> 52) & 2047)::int;
      v := CASE WHEN e = 0 THEN 0 ELSE ((bits & 4503599627370495) + 4503599627370496)::double precision * power(2::double precision, e - 1075) END;
      times[i + 1] := CASE WHEN bits < 0 THEN -v ELSE v END;
    END LOOP;
    pos := pos + 8 * n;
  ELSE
    unit := (ARRAY[1000000, 1000, 1])[(mode & 127) + 1];
    at := 0; step := 0;
    FOR i IN 1 .. CASE WHEN mode < 128 THEN n ELSE least(n, 2) END LOOP
      b := get_byte(raw, pos); pos := pos + 1; r := b & 127; f := 7;
      WHILE b >= 128 LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); f := f + 7; END LOOP;
      r := ((r >> 1) # -(r & 1)) * unit;
      IF i = 1 THEN at := r; ELSE step := step + r; at := at + step; END IF;
      times[i] := at;
    END LOOP;
    -- At one pace: the rest follows from the first and the step.
    IF mode >= 128 AND n > 2 THEN
      at := times[1];
      times := ARRAY(SELECT at + step * i_sample FROM generate_series(0, n - 1) AS i_sample);
    END IF;
  END IF;

  -- values
  mode := get_byte(raw, pos); pos := pos + 1;
  IF mode >= 128 THEN
    r := 0; f := 0;
    LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); EXIT WHEN b < 128; f := f + 7; END LOOP;
    k := r; at := 0;
    FOR i IN 1 .. k LOOP
      r := 0; f := 0;
      LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); EXIT WHEN b < 128; f := f + 7; END LOOP;
      at := at + r;
      holes := holes || (at + 1)::int;
    END LOOP;
    mode := mode - 128;
  END IF;
  IF mode <= 6 THEN
    scale := power(10::double precision, mode);
    at := 0;
    FOR i IN 1 .. n LOOP
      b := get_byte(raw, pos); pos := pos + 1;
      IF b < 128 THEN
        at := at + ((b >> 1) # -(b & 1));
      ELSE
        r := b & 127; f := 7;
        WHILE b >= 128 LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); f := f + 7; END LOOP;
        at := at + ((r >> 1) # -(r & 1));
      END IF;
      vals[i] := at / scale;
    END LOOP;
  ELSIF mode = 16 THEN
    r := 0; f := 0;
    LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); EXIT WHEN b < 128; f := f + 7; END LOOP;
    k := r;
    FOR i IN 0 .. k - 1 LOOP
      bits := 0;
      FOR plane IN REVERSE 7 .. 0 LOOP bits := (bits << 8) | get_byte(raw, pos + 8 * i + plane); END LOOP;
      dict := dict || history.double_of_bits(bits);
    END LOOP;
    pos := pos + 8 * k; at := 0;
    FOR i IN 1 .. n LOOP
      b := get_byte(raw, pos); pos := pos + 1;
      IF b < 128 THEN
        at := at + ((b >> 1) # -(b & 1));
      ELSE
        r := b & 127; f := 7;
        WHILE b >= 128 LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); f := f + 7; END LOOP;
        at := at + ((r >> 1) # -(r & 1));
      END IF;
      vals[i] := dict[at + 1];
    END LOOP;
  ELSIF mode = 17 THEN
    -- Sets instead of loops: the bytes of each value, then what they stand for (IEEE 754).
    vals := ARRAY(SELECT CASE (w >> 23) & 255
        WHEN 0 THEN (w & 8388607)::double precision * power(2::double precision, -149)
        WHEN 255 THEN CASE WHEN w & 8388607 <> 0 THEN 'NaN'::double precision ELSE 'Infinity' END
        ELSE ((w & 8388607) + 8388608)::double precision * power(2::double precision, ((w >> 23) & 255) - 150) END
        * CASE WHEN w >= 2147483648 THEN -1 ELSE 1 END
      FROM (SELECT get_byte(raw, pos + at_sample) | (get_byte(raw, pos + n + at_sample) << 8) | (get_byte(raw, pos + 2 * n + at_sample) << 16)
              | (get_byte(raw, pos + 3 * n + at_sample)::bigint << 24) AS w
            FROM generate_series(0, n - 1) AS at_sample OFFSET 0) AS words);
    pos := pos + 4 * n;
  ELSIF mode = 18 THEN
    vals := ARRAY(SELECT CASE (w >> 52) & 2047
        WHEN 0 THEN (w & 4503599627370495)::double precision * '4.9406564584124654e-324'::double precision
        WHEN 2047 THEN CASE WHEN w & 4503599627370495 <> 0 THEN 'NaN'::double precision ELSE 'Infinity' END
        ELSE ((w & 4503599627370495) + 4503599627370496)::double precision * power(2::double precision, ((w >> 52) & 2047)::int - 1075) END
        * CASE WHEN w < 0 THEN -1 ELSE 1 END
      FROM (SELECT get_byte(raw, pos + at_sample)::bigint | (get_byte(raw, pos + n + at_sample)::bigint << 8)
              | (get_byte(raw, pos + 2 * n + at_sample)::bigint << 16) | (get_byte(raw, pos + 3 * n + at_sample)::bigint << 24)
              | (get_byte(raw, pos + 4 * n + at_sample)::bigint << 32) | (get_byte(raw, pos + 5 * n + at_sample)::bigint << 40)
              | (get_byte(raw, pos + 6 * n + at_sample)::bigint << 48) | (get_byte(raw, pos + 7 * n + at_sample)::bigint << 56) AS w
            FROM generate_series(0, n - 1) AS at_sample OFFSET 0) AS words);
    pos := pos + 8 * n;
  ELSE
    RAISE EXCEPTION 'value code % is unknown', mode;
  END IF;
  IF holes IS NOT NULL THEN FOREACH i IN ARRAY holes LOOP vals[i] := NULL; END LOOP; END IF;

  -- runs of status; tags; runs of origins; texts
  i := 1;
  WHILE i <= n LOOP
    at := 0; f := 0;
    LOOP b := get_byte(raw, pos); pos := pos + 1; at := at | ((b & 127)::bigint << f); EXIT WHEN b < 128; f := f + 7; END LOOP;
    r := 0; f := 0;
    LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); EXIT WHEN b < 128; f := f + 7; END LOOP;
    stats := stats || array_fill(at, ARRAY[r::int]);
    i := i + r::int;
  END LOOP;
  IF flags & 1 <> 0 THEN
    tags := array_fill(0::bigint, ARRAY[n]); at := 0;
    FOR i IN 1 .. n LOOP
      r := 0; f := 0;
      LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); EXIT WHEN b < 128; f := f + 7; END LOOP;
      at := at + ((r >> 1) # -(r & 1));
      tags[i] := at;
    END LOOP;
  END IF;
  IF flags & 2 <> 0 THEN
    i := 1;
    WHILE i <= n LOOP
      k := get_byte(raw, pos); pos := pos + 1;
      r := 0; f := 0;
      LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); EXIT WHEN b < 128; f := f + 7; END LOOP;
      origs := origs || array_fill(k::smallint, ARRAY[r::int]);
      i := i + r::int;
    END LOOP;
  END IF;
  IF flags & 4 <> 0 THEN
    r := 0; f := 0;
    LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); EXIT WHEN b < 128; f := f + 7; END LOOP;
    k := r;
    FOR j IN 1 .. k LOOP
      r := 0; f := 0;
      LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); EXIT WHEN b < 128; f := f + 7; END LOOP;
      texts := texts || convert_from(substring(raw FROM pos + 1 FOR r::int), 'UTF8');
      pos := pos + r::int;
    END LOOP;
  END IF;
  -- 64-bit integers: what is missing from the doubles next to them
  IF flags & 8 <> 0 THEN
    digits := array_fill(NULL::text, ARRAY[n]);
    FOR i IN 1 .. n LOOP
      b := get_byte(raw, pos); pos := pos + 1; r := b & 127; f := 7;
      WHILE b >= 128 LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); f := f + 7; END LOOP;
      digits[i] := (history.exact_numeric(vals[i]) + ((r >> 1) # -(r & 1)))::text;
    END LOOP;
  END IF;
  IF texts IS NULL AND digits IS NULL THEN
    RETURN QUERY SELECT tags[s], times[s], vals[s], NULL::text, stats[s], origs[s] FROM generate_series(1, n) AS s;
  ELSIF digits IS NULL THEN
    RETURN QUERY SELECT tags[s], times[s], vals[s], texts[vals[s]::int + 1], stats[s], origs[s] FROM generate_series(1, n) AS s;
  ELSE
    RETURN QUERY SELECT tags[s], times[s], vals[s], digits[s], stats[s], origs[s] FROM generate_series(1, n) AS s;
  END IF;
END $$;


--
-- Name: double_of_bits(bigint); Type: FUNCTION; Schema: history; Owner: -
--

CREATE FUNCTION history.double_of_bits(bits bigint) RETURNS double precision
    LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE
    AS $$
DECLARE
  e int := ((bits >> 52) & 2047)::int;
  m bigint := bits & 4503599627370495;
  v double precision;
BEGIN
  IF e = 2047 THEN v := CASE WHEN m <> 0 THEN 'NaN' ELSE 'Infinity' END;
  ELSIF e = 0 THEN v := m::double precision * '4.9406564584124654e-324'::double precision;
  ELSE v := (m + 4503599627370496)::double precision * power(2::double precision, e - 1075);
  END IF;
  RETURN CASE WHEN bits < 0 THEN -v ELSE v END;
END $$;


--
-- Name: exact_numeric(double precision); Type: FUNCTION; Schema: history; Owner: -
--

CREATE FUNCTION history.exact_numeric(v double precision) RETURNS numeric
    LANGUAGE sql IMMUTABLE PARALLEL SAFE
    AS $$
  SELECT CASE WHEN v IS NULL THEN NULL
              ELSE (trunc(v / 4294967296)::bigint)::numeric * 4294967296 + (v - trunc(v / 4294967296) * 4294967296)::bigint END
$$;


--
-- Name: instant(bigint); Type: FUNCTION; Schema: history; Owner: -
--

CREATE FUNCTION history.instant(micros bigint) RETURNS timestamp with time zone
    LANGUAGE sql IMMUTABLE PARALLEL SAFE
    AS $$
  SELECT timestamptz 'epoch' + micros * interval '1 microsecond'
$$;


--
-- Name: origin(smallint); Type: FUNCTION; Schema: history; Owner: -
--

CREATE FUNCTION history.origin(code smallint) RETURNS text
    LANGUAGE sql IMMUTABLE PARALLEL SAFE
    AS $$
  SELECT CASE code WHEN 0 THEN 'live' WHEN 1 THEN 'buffered' WHEN 2 THEN 'backfilled' WHEN 3 THEN 'entered'
                   WHEN 4 THEN 'corrected' WHEN 5 THEN 'derived' WHEN 6 THEN 'carried' END
$$;


--
-- Name: quality(bigint); Type: FUNCTION; Schema: history; Owner: -
--

CREATE FUNCTION history.quality(status bigint) RETURNS text
    LANGUAGE sql IMMUTABLE PARALLEL SAFE
    AS $$
  SELECT CASE status >> 30 WHEN 0 THEN 'Good' WHEN 1 THEN 'Uncertain' ELSE 'Bad' END
$$;


--
-- Name: sample(text, timestamp with time zone, timestamp with time zone); Type: FUNCTION; Schema: history; Owner: -
--

CREATE FUNCTION history.sample(tag_name text, from_time timestamp with time zone, to_time timestamp with time zone) RETURNS TABLE(tag text, "time" timestamp with time zone, value double precision, text text, status bigint, quality text, origin text)
    LANGUAGE plpgsql STABLE SECURITY DEFINER
    SET search_path TO 'public', 'pg_temp'
    AS $$
#variable_conflict use_column
DECLARE
  wanted record;
  -- History lies between 1685 and 2255; beyond, and at infinity, is as far as that.
  lo bigint := (extract(epoch FROM greatest(from_time, timestamptz '1685-01-01')) * 1000000)::bigint;
  hi bigint := (extract(epoch FROM least(to_time, timestamptz '2255-01-01')) * 1000000)::bigint;
  month_lo bigint := extract(epoch FROM date_trunc('month', greatest(from_time, timestamptz '1685-01-01') AT TIME ZONE 'UTC'))::bigint * 1000000;
  fresh bigint[];
  -- In variables, so that posted entries are passed over before they are decoded.
  mark record;
BEGIN
  SELECT p.tx, p.id INTO mark FROM posting p;
  SELECT t.id, t.name, t.type = 'text' AS textual INTO wanted FROM tag t WHERE t.name = tag_name;
  IF NOT FOUND THEN RAISE EXCEPTION 'there is no tag "%"; SELECT tag FROM history.tag lists them', tag_name; END IF;
  -- Entries not yet posted: for one time stamp the latest stands, also before the ledger's.
  SELECT array_agg(DISTINCT d.micros) INTO fresh
    FROM journal_entry j, history.decode_frame(j.frame) d
    WHERE (j.tx, j.id) > (mark.tx, mark.id) AND j.tags @> ARRAY[wanted.id] AND j.first_time < hi AND j.last_time >= lo
      AND d.tag = wanted.id AND d.micros >= lo AND d.micros < hi;
  RETURN QUERY SELECT wanted.name, timestamptz 'epoch' + d.micros * interval '1 microsecond',
      CASE WHEN wanted.textual THEN NULL ELSE d.value END, d.label, d.status,
      CASE d.status >> 30 WHEN 0 THEN 'Good' WHEN 1 THEN 'Uncertain' ELSE 'Bad' END, history.origin(d.origin)
    FROM ledger_block b, history.decode_frame(b.frame) d
    WHERE b.tag_id = wanted.id AND b.first_time >= month_lo AND b.first_time < hi AND b.last_time >= lo
      AND d.micros >= lo AND d.micros < hi AND (fresh IS NULL OR d.micros <> ALL (fresh));
  IF fresh IS NOT NULL THEN
    -- 0x80A00000 says that the value was removed.
    RETURN QUERY SELECT wanted.name, history.instant(n.micros), CASE WHEN wanted.textual THEN NULL ELSE n.value END,
        n.label, n.status, history.quality(n.status), history.origin(n.came)
      FROM (SELECT DISTINCT ON (d.micros) d.micros, d.value, d.label, d.status, j.origin AS came
        FROM journal_entry j, history.decode_frame(j.frame) d
        WHERE (j.tx, j.id) > (mark.tx, mark.id) AND j.tags @> ARRAY[wanted.id] AND j.first_time < hi AND j.last_time >= lo
          AND d.tag = wanted.id AND d.micros >= lo AND d.micros < hi
        ORDER BY d.micros, j.tx DESC, j.id DESC) AS n
      WHERE n.status <> 2157969408;
  END IF;
END $$;


--
-- Name: append_entry(text, bigint, smallint, integer, bigint, bigint, integer[], bytea, jsonb, jsonb, jsonb, text); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.append_entry(by_writer text, at_sequence bigint, of_origin smallint, sample_count integer, from_time bigint, to_time bigint, of_tags integer[], frame_bytes bytea, watches jsonb, outages jsonb, refused jsonb, given_reason text) RETURNS bigint
    LANGUAGE plpgsql
    AS $$
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


--
-- Name: ensure_journal_day(date); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.ensure_journal_day(wanted date) RETURNS void
    LANGUAGE plpgsql
    AS $$
BEGIN
  IF to_regclass(format('journal_entry_%s', to_char(wanted, 'YYYYMMDD'))) IS NULL THEN
    PERFORM pg_advisory_xact_lock(7001);
    EXECUTE format('CREATE TABLE IF NOT EXISTS journal_entry_%s PARTITION OF journal_entry FOR VALUES FROM (%L) TO (%L)',
      to_char(wanted, 'YYYYMMDD'), wanted, wanted + 1);
  END IF;
END $$;


--
-- Name: ensure_month(text, bigint); Type: FUNCTION; Schema: public; Owner: -
--

CREATE FUNCTION public.ensure_month(parent text, month_start bigint) RETURNS void
    LANGUAGE plpgsql
    AS $$
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


SET default_tablespace = '';

SET default_table_access_method = heap;

--
-- Name: __drizzle_migrations; Type: TABLE; Schema: drizzle; Owner: -
--

CREATE TABLE drizzle.__drizzle_migrations (
    id integer NOT NULL,
    hash text NOT NULL,
    created_at bigint
);


--
-- Name: __drizzle_migrations_id_seq; Type: SEQUENCE; Schema: drizzle; Owner: -
--

CREATE SEQUENCE drizzle.__drizzle_migrations_id_seq
    AS integer
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;


--
-- Name: __drizzle_migrations_id_seq; Type: SEQUENCE OWNED BY; Schema: drizzle; Owner: -
--

ALTER SEQUENCE drizzle.__drizzle_migrations_id_seq OWNED BY drizzle.__drizzle_migrations.id;


--
-- Name: annotation_id; Type: SEQUENCE; Schema: public; Owner: -
--

CREATE SEQUENCE public.annotation_id
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;


--
-- Name: annotation; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.annotation (
    id bigint DEFAULT nextval('public.annotation_id'::regclass) NOT NULL,
    tag_id integer NOT NULL,
    "time" bigint NOT NULL,
    text text NOT NULL,
    written_by text NOT NULL,
    written_at timestamp with time zone DEFAULT now() NOT NULL
)
PARTITION BY RANGE ("time");


--
-- Name: tag; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.tag (
    id integer NOT NULL,
    name text NOT NULL,
    type text NOT NULL,
    unit text NOT NULL,
    description text NOT NULL,
    place text NOT NULL,
    stepped boolean NOT NULL,
    low double precision,
    high double precision,
    states jsonb,
    source_id integer,
    collection jsonb,
    in_force_since timestamp with time zone NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    store_id integer DEFAULT 1 NOT NULL,
    aggregate_configuration jsonb
);


--
-- Name: annotation; Type: VIEW; Schema: history; Owner: -
--

CREATE VIEW history.annotation AS
 SELECT t.name AS tag,
    history.instant(a."time") AS "time",
    a.text,
    a.written_by,
    a.written_at
   FROM (public.annotation a
     JOIN public.tag t ON ((t.id = a.tag_id)));


--
-- Name: source; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.source (
    id integer NOT NULL,
    name text NOT NULL,
    kind text NOT NULL,
    connection jsonb NOT NULL
);


--
-- Name: watch; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.watch (
    id bigint NOT NULL,
    source_id integer NOT NULL,
    version integer NOT NULL,
    origin smallint NOT NULL,
    since bigint NOT NULL,
    until bigint NOT NULL
);


--
-- Name: coverage; Type: VIEW; Schema: history; Owner: -
--

CREATE VIEW history.coverage AS
 SELECT s.name AS source,
    history.instant(w.since) AS since,
    history.instant(w.until) AS until,
    history.origin(w.origin) AS origin,
    w.version
   FROM (public.watch w
     JOIN public.source s ON ((s.id = w.source_id)));


--
-- Name: journal_entry_id; Type: SEQUENCE; Schema: public; Owner: -
--

CREATE SEQUENCE public.journal_entry_id
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1;


--
-- Name: journal_entry; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.journal_entry (
    day date DEFAULT ((now() AT TIME ZONE 'UTC'::text))::date NOT NULL,
    id bigint DEFAULT nextval('public.journal_entry_id'::regclass) NOT NULL,
    tx xid8 DEFAULT pg_current_xact_id() NOT NULL,
    writer text NOT NULL,
    sequence bigint,
    origin smallint NOT NULL,
    received_at timestamp with time zone DEFAULT clock_timestamp() NOT NULL,
    samples integer NOT NULL,
    first_time bigint,
    last_time bigint,
    tags integer[],
    frame bytea,
    reason text
)
PARTITION BY RANGE (day);
ALTER TABLE ONLY public.journal_entry ALTER COLUMN frame SET COMPRESSION lz4;


--
-- Name: posting; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.posting (
    only_row boolean DEFAULT true NOT NULL,
    tx xid8 NOT NULL,
    id bigint NOT NULL,
    posted_samples bigint DEFAULT 0 NOT NULL,
    posted_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT posting_only_row_check CHECK (only_row)
);


--
-- Name: entry; Type: VIEW; Schema: history; Owner: -
--

CREATE VIEW history.entry AS
 SELECT j.id,
    j.received_at,
    j.writer,
    j.sequence,
    history.origin(j.origin) AS origin,
    j.samples,
    cardinality(j.tags) AS tags,
    history.instant(j.first_time) AS first_time,
    history.instant(j.last_time) AS last_time,
    j.reason,
    (ROW(j.tx, j.id) <= ROW(p.tx, p.id)) AS posted
   FROM public.journal_entry j,
    public.posting p;


--
-- Name: outage; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.outage (
    source_id integer NOT NULL,
    tag_id integer DEFAULT 0 NOT NULL,
    since bigint NOT NULL,
    until bigint,
    cause text NOT NULL,
    sentence text NOT NULL,
    code text,
    recoverable boolean NOT NULL
);


--
-- Name: gap; Type: VIEW; Schema: history; Owner: -
--

CREATE VIEW history.gap AS
 SELECT s.name AS source,
    NULL::text AS tag,
    history.instant(lower(g.span)) AS since,
    history.instant(upper(g.span)) AS until,
    COALESCE(o.cause, 'unknown'::text) AS cause,
    o.sentence,
    COALESCE(o.recoverable, false) AS recoverable
   FROM ((((( SELECT tag.source_id,
            ((EXTRACT(epoch FROM min(tag.in_force_since)) * (1000000)::numeric))::bigint AS since
           FROM public.tag
          WHERE (tag.source_id IS NOT NULL)
          GROUP BY tag.source_id) due
     JOIN public.source s ON ((s.id = due.source_id)))
     CROSS JOIN LATERAL ( SELECT range_agg(int8range(w.since, w.until)) AS spans
           FROM public.watch w
          WHERE ((w.source_id = due.source_id) AND (w.until > w.since))) watched)
     CROSS JOIN LATERAL unnest((int8multirange(int8range(due.since, GREATEST(due.since, (((EXTRACT(epoch FROM now()) - (4)::numeric) * (1000000)::numeric))::bigint))) - COALESCE(watched.spans, '{}'::int8multirange))) g(span))
     LEFT JOIN LATERAL ( SELECT x.cause,
            x.sentence,
            x.recoverable
           FROM public.outage x
          WHERE ((x.source_id = due.source_id) AND (x.tag_id = 0) AND (x.since < upper(g.span)) AND (COALESCE(x.until, upper(g.span)) > lower(g.span)))
          ORDER BY (LEAST(COALESCE(x.until, upper(g.span)), upper(g.span)) - GREATEST(x.since, lower(g.span))) DESC
         LIMIT 1) o ON (true))
UNION ALL
 SELECT s.name AS source,
    t.name AS tag,
    history.instant(o.since) AS since,
    history.instant(o.until) AS until,
    o.cause,
    o.sentence,
    o.recoverable
   FROM ((public.outage o
     JOIN public.source s ON ((s.id = o.source_id)))
     JOIN public.tag t ON ((t.id = o.tag_id)));


--
-- Name: ledger_block; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.ledger_block (
    tag_id integer NOT NULL,
    first_time bigint NOT NULL,
    last_time bigint NOT NULL,
    samples integer NOT NULL,
    good_samples integer NOT NULL,
    "least" double precision,
    "greatest" double precision,
    total double precision,
    frame bytea NOT NULL,
    uncertain_samples integer NOT NULL,
    summary bytea
)
PARTITION BY RANGE (first_time);
ALTER TABLE ONLY public.ledger_block ALTER COLUMN frame SET COMPRESSION lz4;
ALTER TABLE ONLY public.ledger_block ALTER COLUMN summary SET STORAGE PLAIN;


--
-- Name: hourly; Type: VIEW; Schema: history; Owner: -
--

CREATE VIEW history.hourly AS
 SELECT t.name AS tag,
    part.hour,
    (sum(part.samples))::bigint AS samples,
    (sum(part.good_samples))::bigint AS good_samples,
    min(part."least") AS "least",
    max(part."greatest") AS "greatest",
    (sum(part.total) / (NULLIF(sum(part.good_samples), (0)::numeric))::double precision) AS mean
   FROM (public.tag t
     CROSS JOIN LATERAL ( SELECT date_trunc('hour'::text, history.instant(b.first_time), 'UTC'::text) AS hour,
            b.samples,
            b.good_samples,
            b."least",
            b."greatest",
            b.total
           FROM public.ledger_block b
          WHERE ((b.tag_id = t.id) AND ((b.first_time / '3600000000'::bigint) = (b.last_time / '3600000000'::bigint)))
        UNION ALL
         SELECT date_trunc('hour'::text, history.instant(d.micros), 'UTC'::text) AS date_trunc,
            count(*) AS count,
            count(*) FILTER (WHERE ((d.status >> 30) = 0)) AS count,
            min(d.value) FILTER (WHERE ((d.status >> 30) = 0)) AS min,
            max(d.value) FILTER (WHERE ((d.status >> 30) = 0)) AS max,
            sum(d.value) FILTER (WHERE ((d.status >> 30) = 0)) AS sum
           FROM public.ledger_block b,
            LATERAL history.decode_frame(b.frame) d(tag, micros, value, label, status, origin)
          WHERE ((b.tag_id = t.id) AND ((b.first_time / '3600000000'::bigint) <> (b.last_time / '3600000000'::bigint)))
          GROUP BY (date_trunc('hour'::text, history.instant(d.micros), 'UTC'::text))) part)
  WHERE (t.type <> 'text'::text)
  GROUP BY t.name, part.hour;


--
-- Name: modified_sample; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.modified_sample (
    tag_id integer NOT NULL,
    "time" bigint NOT NULL,
    value double precision,
    text text,
    status bigint NOT NULL,
    origin smallint NOT NULL,
    kind text NOT NULL,
    modified_by text NOT NULL,
    modified_at timestamp with time zone NOT NULL,
    reason text
)
PARTITION BY RANGE ("time");


--
-- Name: modified; Type: VIEW; Schema: history; Owner: -
--

CREATE VIEW history.modified AS
 SELECT t.name AS tag,
    history.instant(m."time") AS "time",
    m.value,
    m.text,
    m.status,
    history.quality(m.status) AS quality,
    history.origin(m.origin) AS origin,
    m.kind,
    m.modified_at,
    m.modified_by,
    m.reason
   FROM (public.modified_sample m
     JOIN public.tag t ON ((t.id = m.tag_id)));


--
-- Name: store; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.store (
    id integer NOT NULL,
    name text NOT NULL,
    sealed_url text,
    retention_months integer,
    keeps_since bigint,
    CONSTRAINT store_retention_months_check CHECK ((retention_months > 0))
);


--
-- Name: tag; Type: VIEW; Schema: history; Owner: -
--

CREATE VIEW history.tag AS
 SELECT t.name AS tag,
    t.type,
    t.unit,
    t.description,
    t.place,
    t.stepped,
    t.low,
    t.high,
    s.name AS source,
    st.name AS store,
    t.in_force_since
   FROM ((public.tag t
     LEFT JOIN public.source s ON ((s.id = t.source_id)))
     JOIN public.store st ON ((st.id = t.store_id)));


--
-- Name: access_key; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.access_key (
    id integer NOT NULL,
    name text NOT NULL,
    scopes text[] NOT NULL,
    key_hash text NOT NULL,
    created_at timestamp with time zone DEFAULT now() NOT NULL,
    created_by text NOT NULL
);


--
-- Name: access_key_id_seq; Type: SEQUENCE; Schema: public; Owner: -
--

ALTER TABLE public.access_key ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.access_key_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);


--
-- Name: account; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.account (
    id integer NOT NULL,
    name text NOT NULL,
    password_hash text NOT NULL,
    scopes text[] NOT NULL
);


--
-- Name: account_id_seq; Type: SEQUENCE; Schema: public; Owner: -
--

ALTER TABLE public.account ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.account_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);


--
-- Name: annotation_202601; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.annotation_202601 (
    id bigint DEFAULT nextval('public.annotation_id'::regclass) NOT NULL,
    tag_id integer NOT NULL,
    "time" bigint NOT NULL,
    text text NOT NULL,
    written_by text NOT NULL,
    written_at timestamp with time zone DEFAULT now() NOT NULL
);


--
-- Name: configuration; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.configuration (
    only_row boolean DEFAULT true NOT NULL,
    version integer NOT NULL,
    CONSTRAINT configuration_only_row_check CHECK (only_row)
);


--
-- Name: job; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.job (
    id integer NOT NULL,
    key text NOT NULL,
    title text NOT NULL,
    state text NOT NULL,
    done double precision NOT NULL,
    total double precision NOT NULL,
    unit text NOT NULL,
    sentence text NOT NULL,
    started_at timestamp with time zone DEFAULT now() NOT NULL,
    updated_at timestamp with time zone DEFAULT now() NOT NULL
);


--
-- Name: job_id_seq; Type: SEQUENCE; Schema: public; Owner: -
--

ALTER TABLE public.job ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.job_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);


--
-- Name: journal_writer; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.journal_writer (
    writer text NOT NULL,
    sequence bigint NOT NULL
);


--
-- Name: ledger_block_202601; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.ledger_block_202601 (
    tag_id integer NOT NULL,
    first_time bigint NOT NULL,
    last_time bigint NOT NULL,
    samples integer NOT NULL,
    good_samples integer NOT NULL,
    "least" double precision,
    "greatest" double precision,
    total double precision,
    frame bytea NOT NULL,
    uncertain_samples integer NOT NULL,
    summary bytea
);
ALTER TABLE ONLY public.ledger_block_202601 ALTER COLUMN frame SET COMPRESSION lz4;
ALTER TABLE ONLY public.ledger_block_202601 ALTER COLUMN summary SET STORAGE PLAIN;


--
-- Name: ledger_block_202602; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.ledger_block_202602 (
    tag_id integer NOT NULL,
    first_time bigint NOT NULL,
    last_time bigint NOT NULL,
    samples integer NOT NULL,
    good_samples integer NOT NULL,
    "least" double precision,
    "greatest" double precision,
    total double precision,
    frame bytea NOT NULL,
    uncertain_samples integer NOT NULL,
    summary bytea
);
ALTER TABLE ONLY public.ledger_block_202602 ALTER COLUMN frame SET COMPRESSION lz4;
ALTER TABLE ONLY public.ledger_block_202602 ALTER COLUMN summary SET STORAGE PLAIN;


--
-- Name: set_aside; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.set_aside (
    id bigint NOT NULL,
    at timestamp with time zone DEFAULT now() NOT NULL,
    writer text NOT NULL,
    tag text NOT NULL,
    "time" bigint,
    value text NOT NULL,
    status bigint,
    reason text NOT NULL
);


--
-- Name: set_aside_id_seq; Type: SEQUENCE; Schema: public; Owner: -
--

ALTER TABLE public.set_aside ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.set_aside_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);


--
-- Name: source_id_seq; Type: SEQUENCE; Schema: public; Owner: -
--

ALTER TABLE public.source ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.source_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);


--
-- Name: store_id_seq; Type: SEQUENCE; Schema: public; Owner: -
--

ALTER TABLE public.store ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.store_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);


--
-- Name: store_owner; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.store_owner (
    only_row boolean DEFAULT true NOT NULL,
    site text NOT NULL,
    CONSTRAINT store_owner_only_row_check CHECK (only_row)
);


--
-- Name: tag_id_seq; Type: SEQUENCE; Schema: public; Owner: -
--

ALTER TABLE public.tag ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.tag_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);


--
-- Name: tag_move; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.tag_move (
    tag_id integer NOT NULL,
    from_store integer NOT NULL,
    to_store integer NOT NULL,
    state text NOT NULL,
    started_by text NOT NULL,
    started_at timestamp with time zone DEFAULT now() NOT NULL,
    CONSTRAINT tag_move_state_check CHECK ((state = ANY (ARRAY['copying'::text, 'switched'::text])))
);


--
-- Name: watch_id_seq; Type: SEQUENCE; Schema: public; Owner: -
--

ALTER TABLE public.watch ALTER COLUMN id ADD GENERATED ALWAYS AS IDENTITY (
    SEQUENCE NAME public.watch_id_seq
    START WITH 1
    INCREMENT BY 1
    NO MINVALUE
    NO MAXVALUE
    CACHE 1
);


--
-- Name: annotation_202601; Type: TABLE ATTACH; Schema: public; Owner: -
--

ALTER TABLE ONLY public.annotation ATTACH PARTITION public.annotation_202601 FOR VALUES FROM ('1767225600000000') TO ('1769904000000000');


--
-- Name: ledger_block_202601; Type: TABLE ATTACH; Schema: public; Owner: -
--

ALTER TABLE ONLY public.ledger_block ATTACH PARTITION public.ledger_block_202601 FOR VALUES FROM ('1767225600000000') TO ('1769904000000000');


--
-- Name: ledger_block_202602; Type: TABLE ATTACH; Schema: public; Owner: -
--

ALTER TABLE ONLY public.ledger_block ATTACH PARTITION public.ledger_block_202602 FOR VALUES FROM ('1769904000000000') TO ('1772323200000000');


--
-- Name: __drizzle_migrations id; Type: DEFAULT; Schema: drizzle; Owner: -
--

ALTER TABLE ONLY drizzle.__drizzle_migrations ALTER COLUMN id SET DEFAULT nextval('drizzle.__drizzle_migrations_id_seq'::regclass);


--
-- Data for Name: __drizzle_migrations; Type: TABLE DATA; Schema: drizzle; Owner: -
--

COPY drizzle.__drizzle_migrations (id, hash, created_at) FROM stdin;
1	7ccf5a8bb3a8b65f22e2bdf1f54b49928415e811a86bff8d9c337a3dee818403	1795435200000
2	be77a669157ffa2debdbce17600696515960ed0fe0d312abd799a26e2018d72e	1795435200001
3	1b6f0f8d5a550fdfb5e4068f091da584b62b70d33a26b5bf55c4280547718804	1795435200002
4	76a8821248ffdecd36aa46e6321bb1d878c41e628cbcc1be21a260807406d9b0	1795435200003
5	e7aadc8679186db58c50f1b2d2ca4d89fd76a3418e447380937bacf06bb7bee2	1795435200004
\.


--
-- Data for Name: access_key; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.access_key (id, name, scopes, key_hash, created_at, created_by) FROM stdin;
\.


--
-- Data for Name: account; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.account (id, name, password_hash, scopes) FROM stdin;
\.


--
-- Data for Name: annotation_202601; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.annotation_202601 (id, tag_id, "time", text, written_by, written_at) FROM stdin;
1	5	1769732400000000	In the second store.	admin	2026-11-26 05:07:34.357895+00
\.


--
-- Data for Name: configuration; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.configuration (only_row, version) FROM stdin;
t	1
\.


--
-- Data for Name: job; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.job (id, key, title, state, done, total, unit, sentence, started_at, updated_at) FROM stdin;
\.


--
-- Data for Name: journal_writer; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.journal_writer (writer, sequence) FROM stdin;
\.


--
-- Data for Name: ledger_block_202601; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.ledger_block_202601 (tag_id, first_time, last_time, samples, good_samples, "least", "greatest", total, frame, uncertain_samples, summary) FROM stdin;
5	1769731200000000	1769903940000000	2880	2880	0	2879	4145760	\\x3102c0168080d2df970d780000020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020200c01600c016	0	\\x000000000080a6400080189e3e26194300000000000000000064857edf26194300000000007ea64000483770df26194300000000007ca6400000000030a14f4100000000000000000000009ecba5fd41000000000000000000000000000000000080189e3e26194300000000007ea6400064857edf261943007060a2ef44ec42000000000000000000e0ac206c42ec42000000000000000000000000007ea64000000000389c8c410000000000000000
\.


--
-- Data for Name: ledger_block_202602; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.ledger_block_202602 (tag_id, first_time, last_time, samples, good_samples, "least", "greatest", total, frame, uncertain_samples, summary) FROM stdin;
5	1769904000000000	1769911140000000	120	120	2880	2999	352740	\\x3102788080def4970d7800802d020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020200780078	0	\\x0000000000005e400080d38cdf261943000000000080a64000842233e626194300000000006ea7400068d424e626194300000000006ca74000000000908715410000000000000000000000fadbe7ce410000000000000000000000000080a6400080d38cdf26194300000000006ea74000842233e626194300809b12a816b34200000000000000000000bb48d315b34200000000000000000000000000c05d4000000000000000000000000000000000
5	1769918100000000	1769918109000000	10	10	6010	6019	60145	\\x31020a80a8baf6970d0200f45d020202020202020202000a000a	0	\\x0000000000002440003487aeec26194300000000007ab7400085acb0ec261943000000000083b740007c6fb0ec261943000000000082b74000000000205eed40000000000000000000000069bf8fb541000000000000000000000000007ab740003487aeec261943000000000083b7400085acb0ec261943000040c3db34294200000000000000000000006f523429420000000000000000000000000000224000000000000000000000000000000000
\.


--
-- Data for Name: outage; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.outage (source_id, tag_id, since, until, cause, sentence, code, recoverable) FROM stdin;
\.


--
-- Data for Name: posting; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.posting (only_row, tx, id, posted_samples, posted_at) FROM stdin;
t	768	19	6048	2026-11-26 05:07:46.810476+00
\.


--
-- Data for Name: set_aside; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.set_aside (id, at, writer, tag, "time", value, status, reason) FROM stdin;
\.


--
-- Data for Name: source; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.source (id, name, kind, connection) FROM stdin;
\.


--
-- Data for Name: store; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.store (id, name, sealed_url, retention_months, keeps_since) FROM stdin;
1	Embedded	\N	\N	\N
\.


--
-- Data for Name: store_owner; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.store_owner (only_row, site) FROM stdin;
t	69ee950e-6b17-4d81-a76f-3b8c0cb6e334
\.


--
-- Data for Name: tag; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.tag (id, name, type, unit, description, place, stepped, low, high, states, source_id, collection, in_force_since, created_at, store_id, aggregate_configuration) FROM stdin;
\.


--
-- Data for Name: tag_move; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.tag_move (tag_id, from_store, to_store, state, started_by, started_at) FROM stdin;
\.


--
-- Data for Name: watch; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.watch (id, source_id, version, origin, since, until) FROM stdin;
\.


--
-- Name: __drizzle_migrations_id_seq; Type: SEQUENCE SET; Schema: drizzle; Owner: -
--

SELECT pg_catalog.setval('drizzle.__drizzle_migrations_id_seq', 5, true);


--
-- Name: access_key_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.access_key_id_seq', 1, false);


--
-- Name: account_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.account_id_seq', 1, false);


--
-- Name: annotation_id; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.annotation_id', 1, true);


--
-- Name: job_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.job_id_seq', 1, false);


--
-- Name: journal_entry_id; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.journal_entry_id', 1, false);


--
-- Name: set_aside_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.set_aside_id_seq', 1, false);


--
-- Name: source_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.source_id_seq', 1, false);


--
-- Name: store_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.store_id_seq', 1, true);


--
-- Name: tag_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.tag_id_seq', 1, false);


--
-- Name: watch_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.watch_id_seq', 1, false);


--
-- Name: __drizzle_migrations __drizzle_migrations_pkey; Type: CONSTRAINT; Schema: drizzle; Owner: -
--

ALTER TABLE ONLY drizzle.__drizzle_migrations
    ADD CONSTRAINT __drizzle_migrations_pkey PRIMARY KEY (id);


--
-- Name: access_key access_key_key_hash_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.access_key
    ADD CONSTRAINT access_key_key_hash_key UNIQUE (key_hash);


--
-- Name: access_key access_key_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.access_key
    ADD CONSTRAINT access_key_pkey PRIMARY KEY (id);


--
-- Name: account account_name_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.account
    ADD CONSTRAINT account_name_key UNIQUE (name);


--
-- Name: account account_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.account
    ADD CONSTRAINT account_pkey PRIMARY KEY (id);


--
-- Name: configuration configuration_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.configuration
    ADD CONSTRAINT configuration_pkey PRIMARY KEY (only_row);


--
-- Name: job job_key_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.job
    ADD CONSTRAINT job_key_key UNIQUE (key);


--
-- Name: job job_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.job
    ADD CONSTRAINT job_pkey PRIMARY KEY (id);


--
-- Name: journal_writer journal_writer_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.journal_writer
    ADD CONSTRAINT journal_writer_pkey PRIMARY KEY (writer);


--
-- Name: ledger_block ledger_block_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.ledger_block
    ADD CONSTRAINT ledger_block_pkey PRIMARY KEY (tag_id, first_time);


--
-- Name: ledger_block_202601 ledger_block_202601_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.ledger_block_202601
    ADD CONSTRAINT ledger_block_202601_pkey PRIMARY KEY (tag_id, first_time);


--
-- Name: ledger_block_202602 ledger_block_202602_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.ledger_block_202602
    ADD CONSTRAINT ledger_block_202602_pkey PRIMARY KEY (tag_id, first_time);


--
-- Name: outage outage_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.outage
    ADD CONSTRAINT outage_pkey PRIMARY KEY (source_id, tag_id, since);


--
-- Name: posting posting_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.posting
    ADD CONSTRAINT posting_pkey PRIMARY KEY (only_row);


--
-- Name: set_aside set_aside_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.set_aside
    ADD CONSTRAINT set_aside_pkey PRIMARY KEY (id);


--
-- Name: source source_name_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.source
    ADD CONSTRAINT source_name_key UNIQUE (name);


--
-- Name: source source_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.source
    ADD CONSTRAINT source_pkey PRIMARY KEY (id);


--
-- Name: store store_name_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.store
    ADD CONSTRAINT store_name_key UNIQUE (name);


--
-- Name: store_owner store_owner_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.store_owner
    ADD CONSTRAINT store_owner_pkey PRIMARY KEY (only_row);


--
-- Name: store store_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.store
    ADD CONSTRAINT store_pkey PRIMARY KEY (id);


--
-- Name: tag_move tag_move_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.tag_move
    ADD CONSTRAINT tag_move_pkey PRIMARY KEY (tag_id);


--
-- Name: tag tag_name_key; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.tag
    ADD CONSTRAINT tag_name_key UNIQUE (name);


--
-- Name: tag tag_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.tag
    ADD CONSTRAINT tag_pkey PRIMARY KEY (id);


--
-- Name: watch watch_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.watch
    ADD CONSTRAINT watch_pkey PRIMARY KEY (id);


--
-- Name: annotation_by_time; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX annotation_by_time ON ONLY public.annotation USING btree (tag_id, "time");


--
-- Name: annotation_202601_tag_id_time_idx; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX annotation_202601_tag_id_time_idx ON public.annotation_202601 USING btree (tag_id, "time");


--
-- Name: journal_entry_order; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX journal_entry_order ON ONLY public.journal_entry USING btree (tx, id);


--
-- Name: modified_sample_by_time; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX modified_sample_by_time ON ONLY public.modified_sample USING btree (tag_id, "time");


--
-- Name: tag_by_place; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX tag_by_place ON public.tag USING btree (place, name);


--
-- Name: tag_by_store; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX tag_by_store ON public.tag USING btree (store_id);


--
-- Name: watch_by_end; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX watch_by_end ON public.watch USING btree (source_id, until);


--
-- Name: annotation_202601_tag_id_time_idx; Type: INDEX ATTACH; Schema: public; Owner: -
--

ALTER INDEX public.annotation_by_time ATTACH PARTITION public.annotation_202601_tag_id_time_idx;


--
-- Name: ledger_block_202601_pkey; Type: INDEX ATTACH; Schema: public; Owner: -
--

ALTER INDEX public.ledger_block_pkey ATTACH PARTITION public.ledger_block_202601_pkey;


--
-- Name: ledger_block_202602_pkey; Type: INDEX ATTACH; Schema: public; Owner: -
--

ALTER INDEX public.ledger_block_pkey ATTACH PARTITION public.ledger_block_202602_pkey;


--
-- Name: tag_move tag_move_from_store_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.tag_move
    ADD CONSTRAINT tag_move_from_store_fkey FOREIGN KEY (from_store) REFERENCES public.store(id);


--
-- Name: tag_move tag_move_tag_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.tag_move
    ADD CONSTRAINT tag_move_tag_id_fkey FOREIGN KEY (tag_id) REFERENCES public.tag(id);


--
-- Name: tag_move tag_move_to_store_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.tag_move
    ADD CONSTRAINT tag_move_to_store_fkey FOREIGN KEY (to_store) REFERENCES public.store(id);


--
-- Name: tag tag_source_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.tag
    ADD CONSTRAINT tag_source_id_fkey FOREIGN KEY (source_id) REFERENCES public.source(id);


--
-- Name: tag tag_store_id_fkey; Type: FK CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.tag
    ADD CONSTRAINT tag_store_id_fkey FOREIGN KEY (store_id) REFERENCES public.store(id);


--
-- PostgreSQL database dump complete
--

\unrestrict s3EUj24PRvZT2gf4FbhHdn2lajzJAoXncShgXsRmmFTAERjEtYOSbSgNdUej379

