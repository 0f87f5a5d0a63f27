--
-- PostgreSQL database dump
--

\restrict uODoFVUr3Ra1LLxkKEG1dfJ3bqSP7STjbdK50EnvGONGo8ICT5XRww9DtJ3mcTA

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
-- Name: journal_entry_20261126; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.journal_entry_20261126 (
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
);
ALTER TABLE ONLY public.journal_entry_20261126 ALTER COLUMN frame SET COMPRESSION lz4;


--
-- Name: journal_entry_20261127; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.journal_entry_20261127 (
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
);
ALTER TABLE ONLY public.journal_entry_20261127 ALTER COLUMN frame SET COMPRESSION lz4;


--
-- Name: journal_writer; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.journal_writer (
    writer text NOT NULL,
    sequence bigint NOT NULL
);


--
-- Name: ledger_block_198706; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.ledger_block_198706 (
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
ALTER TABLE ONLY public.ledger_block_198706 ALTER COLUMN frame SET COMPRESSION lz4;
ALTER TABLE ONLY public.ledger_block_198706 ALTER COLUMN summary SET STORAGE PLAIN;


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
-- Name: modified_sample_202601; Type: TABLE; Schema: public; Owner: -
--

CREATE TABLE public.modified_sample_202601 (
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
);


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
-- Name: journal_entry_20261126; Type: TABLE ATTACH; Schema: public; Owner: -
--

ALTER TABLE ONLY public.journal_entry ATTACH PARTITION public.journal_entry_20261126 FOR VALUES FROM ('2026-11-26') TO ('2026-11-27');


--
-- Name: journal_entry_20261127; Type: TABLE ATTACH; Schema: public; Owner: -
--

ALTER TABLE ONLY public.journal_entry ATTACH PARTITION public.journal_entry_20261127 FOR VALUES FROM ('2026-11-27') TO ('2026-11-28');


--
-- Name: ledger_block_198706; Type: TABLE ATTACH; Schema: public; Owner: -
--

ALTER TABLE ONLY public.ledger_block ATTACH PARTITION public.ledger_block_198706 FOR VALUES FROM ('549504000000000') TO ('552096000000000');


--
-- Name: ledger_block_202601; Type: TABLE ATTACH; Schema: public; Owner: -
--

ALTER TABLE ONLY public.ledger_block ATTACH PARTITION public.ledger_block_202601 FOR VALUES FROM ('1767225600000000') TO ('1769904000000000');


--
-- Name: ledger_block_202602; Type: TABLE ATTACH; Schema: public; Owner: -
--

ALTER TABLE ONLY public.ledger_block ATTACH PARTITION public.ledger_block_202602 FOR VALUES FROM ('1769904000000000') TO ('1772323200000000');


--
-- Name: modified_sample_202601; Type: TABLE ATTACH; Schema: public; Owner: -
--

ALTER TABLE ONLY public.modified_sample ATTACH PARTITION public.modified_sample_202601 FOR VALUES FROM ('1767225600000000') TO ('1769904000000000');


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
1	admin	$argon2id$v=19$m=19456,t=2,p=1$04SorzhAWUKk8tvUNX6SSQ$7T3uVt/UvgrJtv9edkC5EcKEZn5E1kjVBE9cXbYgKGE	{read,write,collect,carry,admin}
\.


--
-- Data for Name: annotation_202601; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.annotation_202601 (id, tag_id, "time", text, written_by, written_at) FROM stdin;
1	1	1769731800000000	The span was wrong.	admin	2026-11-26 05:07:34.346898+00
\.


--
-- Data for Name: configuration; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.configuration (only_row, version) FROM stdin;
t	4
\.


--
-- Data for Name: job; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.job (id, key, title, state, done, total, unit, sentence, started_at, updated_at) FROM stdin;
1	demo-past	Old work	done	1	1	entries		2026-11-26 05:07:34.382+00	2026-11-26 05:07:34.382+00
\.


--
-- Data for Name: journal_entry_20261126; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.journal_entry_20261126 (day, id, tx, writer, sequence, origin, received_at, samples, first_time, last_time, tags, frame, reason) FROM stdin;
2026-11-26	1	742	w	1	0	2026-11-26 05:07:34.207631+00	500	1769731200000000	1769761140000000	{1}	\\x3101f4038080d2df970d7812009a006600330033009a009a009a339a336633663300cd9a669a66cd9a663300cd3300cd3300339acd00669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd9a3300cd66339a33660033669a33669acd0033669acd9acd00330066cd66cd33cd33cd66336633cd669a9a9a33339a9acd9acdcd66cd660066009a00cd9a669a663300cd9a663300cd9a66cd9a66cd9a00669a0033669acd33669acdcd003366669a9acdcdcd0000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd669acd0033669acd0033669a669acd009a00660066cd66cdcd9acd9a9a33339a9a9a66cd336633669a33cd33cd33cd66003300cd9acd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd6633669acd0033663366339a339a009a009a003300330066009a0033009a00330033009a009a009a339a33669a663300cd9a669a66339a663300cd3300cd3300339acd00669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd9a3300cd66339a33660033669a33669acd0033669acd9acd00330066cd66cd33cd33cd66336633cd00990066003300330099009900993399336633663300cc99669966cc99663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc9900669900336699cc336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66003300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc66336699cc00336633663399339900990099003300330066009900330099003300330099009900993399336699663300cc996699663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc00990066003300330099009900993399336633663300cc99669966cc99663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc9900669900336699cc336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66003300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc66336699cc00336633663399339900990099003300330066009900330099003300330099009900993399336699663300cc996699663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc00990066003300330099009900993399336633663300cc99669966cc99663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc9900669900336699cc336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66003300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc66336699cc00336633663399339900990099003300330066009900330099003300330099009900993399336699663300cc996699663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc00990066003300330099009900993399336633663300cc99669966cc99663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc9900669900336699cc336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66003300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc66336699cc00336633663399339900990099003300330066009900330099003300330099009900993399336699663300cc996699663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc00990066003300330099009900993399336633663300cc99669966cc99663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc9900669900336699cc336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66003300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc66336699cc00336633663399339900990099003300330066009900330099003300330099009900993399336699663300cc996699663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc00c9e0e6f0f3f8fb0001040508090b0d0f1011121314141516171818191a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1e1d1c1b1b1a1918181716151413121211100e0c0a0807040300fefbf6f3ece6d9c9b9d3e3e9f1f4f9fc00020406080a0c0d1010111213141516161718191a1a1b1c1c1d1e1e1f202020212121212122222222222323232323232323232424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121213141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0d0b090805040100fbf8f3f0e6e0c900d3e0e9f0f3f8fb0001040508090b0d0f1011121314141516171819191a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1e1d1c1b1b1a1918181716151413121211100e0c0a0807040300fefbf6f3ec003f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f3fbfbfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f80bfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbf00f4030200000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	2	743	w	2	0	2026-11-26 05:07:34.219544+00	500	1769731200000000	1769761140000000	{5}	\\x3101f4038080d2df970d7800000202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020200f4030a00000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	3	744	w	3	0	2026-11-26 05:07:34.230087+00	500	1769761200000000	1769791140000000	{1}	\\x3101f40380e0a6e3970d78010d0604060406040604060406040604040604040604040406040404040404040404040402040402040204020402020204020202020002020200020002000002000000000000000100000100010001010101000101030101010103010301030103030103030303030303030303030503030305030305030305030503050305030503050305030503050305030305030503030503030303050303030303030303010303030103010301030101030101010101010100010100010001000001000000000000000200000200020200020202020202020202040202040204020404020404040404040404040404040406040404060404060406040604060406040604060406040604040604060406040406040406040404040406040404020404040402040402040204020204020202020202020202000202000200000200000000000000010000010001000101000101010101010103010103010301030103030301030303030303030305030303050303050303050305030305030503050305030503050305030503050303050303050303050303030303030303030303030103030103010301030101010301010101000101010001000100000100000000000000020000020002000202020200020204020202020402040204020404020404040404040404040404060404040604040604060404060400f4030200000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	4	745	w	4	0	2026-11-26 05:07:34.244215+00	500	1769761200000000	1769791140000000	{5}	\\x3101f40380e0a6e3970d7800e8070202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020200f4030a00000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	5	746	w	5	0	2026-11-26 05:07:34.256397+00	500	1769791200000000	1769821140000000	{1}	\\x3101f40380c0fbe6970d7812cd9a9a33339a9a9a66cd336633669a33cd33cd33cd66663300cd9acd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd0033669acd0033663366339a339a339a009a003300330066009a0033009a00cd0033009a009a009a339a33669a663300cd9acd9a66339a663300cd3300cd3300339acd33669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd9a3300cd66339a33660033669acd669acd0033669a669acd00330066cd66cd33cd33cd66336633cd669a9a9a33339a9acd9acdcd66cd660066009a00cd9acd9a663300cd9a663300cd9a66cd9a66cd9a00669a0033669a0033669acdcd003366669a9acdcdcd0000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd669acd0033669acd0033669a669acd009a006600660066cdcd9acd9a9a33339a9a9a66cd336633669a33cd33cd33cd66663300cd9acd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd0033669acd0033663366339a339a339a009acc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc00336633663399339933990099cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc00336633663399339933990099cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc00336633663399339933990099cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc00336633663399339933990099cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc00336633663399339933990099f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121213141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0d0b090705040100fbf8f3f0e6e0c900d3e0e9f0f4f8fb0001040508090b0d0f1011121314141516171819191a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1e1d1c1b1a1a1918181716151413121211100e0c0a0807040300fefbf6f3ece6d9c9b9d3e3e9f1f4f9fc00020406080a0c0d1010111213141516161718191a1a1b1c1c1d1e1e1f202020212121212222222222222323232323232323232424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121213141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0d0b0907050401bfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f80bfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f3fbfbfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c000f4030200000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	6	747	w	6	0	2026-11-26 05:07:34.267176+00	500	1769791200000000	1769821140000000	{5}	\\x3101f40380c0fbe6970d7800d00f0202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020200f4030a00000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	7	748	w	7	0	2026-11-26 05:07:34.279421+00	500	1769821200000000	1769851140000000	{1}	\\x3101f40380a0d0ea970d7812003300330066009a0033009a00cd0033009a009a009a339a33669a663300cd9acd9a66339a663300cd9a00cd3300339acd33669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd9a3300cd66339a33660033669acd669acd0033669a669acd00330066cd66cd33cd33cd669a6633cd669a9a9a33339a9acd9acdcd66cd660066009a00cd9acd9a663300cd9a663300cd9a66cd9a66cd9a00669a0033669a0033669acdcd003366669a9acdcdcd0000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd009acd0033669acd0033669a669acd009a006600660066cdcd9acd9a9a33339a9a9a66cd336633669a33cd33cd33cd66663300cd9acd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd0033669acd0033663366339a339a339a009a003300330066009a0033009a00cd00cd009a009a009a339a33669a663300cd9acd9a663300663300cd9a00cd3300339acd33669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd9a3300cd66339a33669a33669acd669acd0033669a669acd00330066cd66cd3300330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336699336699cc6699cc003366996699cc00330066cc66cc3300330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336699336699cc6699cc003366996699cc00330066cc66cc3300330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336699336699cc6699cc003366996699cc00330066cc66cc3300330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336699336699cc6699cc003366996699cc00330066cc66cc3300330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336699336699cc6699cc003366996699cc00330066cc66cc3300fbf8f3f0e6e0c900d3e0e9f0f4f8fb0001040508090b0d0f1011121314141516171819191a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1e1d1c1b1a1a1918181716151413121211100e0c0a0807040300fef9f6f3ece6d9c9b9d3e3e9f1f4f9fc00020406080a0c0d1010111213141516161718191a1a1b1c1c1d1e1e1f202020212121212222222222222323232323232323232424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121213141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0d0b090705040100fbf8f3f0e6e0c900d3e0e9f0f4f8fc0001040508090b0d0f10111213141415161718191a1a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1d1d1c1b1a1a1918181716151413121211100e0c0a0807c0bfbfbfbfbfbfbf003f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f3fbfbfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f80bfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c000f4030200000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	8	749	w	8	0	2026-11-26 05:07:34.289982+00	500	1769821200000000	1769851140000000	{5}	\\x3101f40380a0d0ea970d7800b8170202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020200f4030a00000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	9	750	w	9	0	2026-11-26 05:07:34.300799+00	500	1769851200000000	1769881140000000	{1}	\\x3101f4038080a5ee970d7801330406040604040604060406040604060406040604060404060406040404060404040404040404040404040204040204020402040202020402020202000202020002000200000200000000000000010000010001000101010100010103010101010301030103010303030103030303030303030303050303030503030503050303050305030503050305030503050305030503030503050303050303030503030303030303030301030303010301030103010103010101010101010001010001000100000100000000000000020000020002020002020202020202020204020204020402040402040404040404040404040404040604040406040604040604060406040604060406040604060406040406040604040604040604040404040604040404020404040402040204020402040202020202020202020200020200020000020000000000000001000001000100010100010101010101030101010301030103030103030301030303030303050303030305030305030305030503050303050305030503050305030503050305030305030503030305030303030303030303030303010303010301030103010101030101010100010101000100010000010000000000000002000002000200020202020002020402020202040204020402040404020404040404040404040406040404060400f4030200000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	10	751	w	10	0	2026-11-26 05:07:34.306814+00	500	1769851200000000	1769881140000000	{5}	\\x3101f4038080a5ee970d7800a01f0202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020200f4030a00000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	11	752	w	11	0	2026-11-26 05:07:34.312426+00	500	1769881200000000	1769911140000000	{1}	\\x3101f40380e0f9f1970d78126600660066cdcd9acd9a9a33339a9a9a66cd336633669a33cd33cd33cd66663300cd00cd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd0033669acd003366336633cd339a339a009a003300330066009a0033009a00cd00cd009a009a009a339a33669a663300cd00cd9a663300663300cd9a00cd3300339acd33669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd663300cd66339a33669a33669acd669acd0033669a669acd00330066cd66cd33cd33cd669a669acd339a9a9a33339a9acd9acdcd66cd66cd66006600cd9acd9a663300cd9a663300cd9a66cd9a66cd9a00669a0033669a0033669acdcd003366669a9acdcdcd0000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd009acd0033669acd0033669a669acd009a006600660066cdcd9acd9a9a33339a9a9a66cd336633669a339a33cd33cd66663300cd00cd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd0033669acd00336633666600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc003366336633cc33993399009900330033006600990033009900cc00cc0099009900993399336699663300cc00cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996699cc3399999933339999cc99cccc66cc66cc66006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc3366336699339933cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc00336633666600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc003366336633cc33993399009900330033006600990033009900cc00cc0099009900993399336699663300cc00cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996699cc3399999933339999cc99cccc66cc66cc66006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc3366336699339933cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc00336633666600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc003366336633cc33993399009900330033006600990033009900cc00cc0099009900993399336699663300cc00cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996699cc3399999933339999cc99cccc66cc66cc66006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc3366336699339933cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc00336633666600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc003366336633cc33993399009900330033006600990033009900cc00cc0099009900993399336699663300cc00cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996699cc3399999933339999cc99cccc66cc66cc66006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc3366336699339933cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc00336633666600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc003366336633cc33993399009900330033006600990033009900cc00cc0099009900993399336699663300cc00cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996699cc3399999933339999cc99cccc66cc66cc66006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc3366336699339933cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc00336633660a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121214141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0c0b090705040100fbf8f3f0e6e0c900d3e0e9f0f4f8fc0001040508090b0d0f10111213141416161718191a1a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1d1d1c1b1a1a1918181716151413121211100e0c0a0807040300fef9f6f1ece3d9c9b9d3e3e9f1f4f9fc00020406080a0c0e1010111213141516161718191a1a1b1c1c1d1e1e1f202020212121212222222222222323232323232323232424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030507080b0c0e1011121214141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a191818171615141413121110c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f80bfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f3fbfbfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c000f4030200000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	12	753	w	12	0	2026-11-26 05:07:34.318001+00	500	1769881200000000	1769911140000000	{5}	\\x3101f40380e0f9f1970d780088270202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020202020200f4030a00000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000	\N
2026-11-26	13	754	admin	\N	3	2026-11-26 05:07:34.33009+00	4	549504000000000	1769904060000000	{2,4,6,1}	\\x31010403000000009c80800021d3d3909b8c8cebdfdfdf552626263c191919ff4343434201f001db01000a000404040409	\N
2026-11-26	14	755	admin	\N	3	2026-11-26 05:07:34.331397+00	1	1769904000000000	1769904000000000	{2}	\\x3109018080def4970d110000005f00010401	\N
2026-11-26	15	756	admin	\N	3	2026-11-26 05:07:34.332126+00	2	1769904000000000	1769904300000000	{3}	\\x3105028080def4970dd8040000020002060002057265616479066cc3a4756674	\N
2026-11-26	16	757	admin	\N	4	2026-11-26 05:07:34.337984+00	1	1769731800000000	1769731800000000	{1}	\\x31010180b0dbdf970d009a01000102	wrong span
2026-11-26	17	762	admin	\N	4	2026-11-26 05:07:34.377674+00	30	1769853600000000	1769855340000000	{1}	\\x31011e80c0caee970d78801e00010101010101010101010101010101010101010101010101010101010100000000000000000000000000000000000000000000000000000000000080808085081e020000000000000000000000000000000000000000000000000000000000	test values
2026-11-26	19	768	hand	1	0	2026-11-26 05:07:41.464117+00	10	1769918100000000	1769918109000000	{5}	\\x31010a80a8baf6970d0200f45d020202020202020202000a0a000000000000000000	\N
2026-11-26	18	769	hand-b	1	0	2026-11-26 05:07:41.459533+00	10	1769917800000000	1769917809000000	{5}	\\x31010a80d0b5f6970d0200a44e020202020202020202000a0a000000000000000000	\N
2026-11-26	20	777	hand-b	2	0	2026-11-26 05:07:50.578808+00	10	1769918400000000	1769918409000000	{1}	\\x31010a8080bff6970d0200b84e020202020202020202000a02000000000000000000	\N
2026-11-26	21	776	hand	2	0	2026-11-26 05:07:50.582987+00	10	1769918700000000	1769918709000000	{1}	\\x31010a80d8c3f6970d0200885e020202020202020202000a02000000000000000000	\N
2026-11-26	22	779	hand-b	3	0	2026-11-26 05:07:50.612268+00	10	1769919000000000	1769919009000000	{2}	\\x31010a80b0c8f6970d0200cc4e020202020202020202000a04000000000000000000	\N
2026-11-26	23	778	hand	3	0	2026-11-26 05:07:50.616354+00	10	1769919300000000	1769919309000000	{2}	\\x31010a8088cdf6970d02009c5e020202020202020202000a04000000000000000000	\N
\.


--
-- Data for Name: journal_entry_20261127; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.journal_entry_20261127 (day, id, tx, writer, sequence, origin, received_at, samples, first_time, last_time, tags, frame, reason) FROM stdin;
\.


--
-- Data for Name: journal_writer; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.journal_writer (writer, sequence) FROM stdin;
w	12
hand-b	3
hand	3
\.


--
-- Data for Name: ledger_block_198706; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.ledger_block_198706 (tag_id, first_time, last_time, samples, good_samples, "least", "greatest", total, frame, uncertain_samples, summary) FROM stdin;
1	549504000000000	549504000000000	1	1	1.5	1.5	1.5	\\x310201808090868c04011e00010301	0	\\x000000000000f03f000090eb553cff42000000000000f83f000090eb553cff42000000000000f83f000000000000f87f000000000000f87f000000000000f83f000000000000000000000000000002400000000000000000000000000000f83f000090eb553cff42000000000000f83f000090eb553cff420000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000
\.


--
-- Data for Name: ledger_block_202601; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.ledger_block_202601 (tag_id, first_time, last_time, samples, good_samples, "least", "greatest", total, frame, uncertain_samples, summary) FROM stdin;
1	1769731200000000	1769903940000000	2850	2850	-10	77	598.9000000000004	\\x3102a2160080d2df970d7800000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000901c8f1c0000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000012009a006600330033009a009a009a339a336633663300cd9a669a66cd9a663300cd3300cd3300339acd00669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd9a3300cd66339a33660033669a33669acd0033669acd9acd00330066cd66cd33cd33cd66336633cd669a9a9a33339a9acd9acdcd66cd660066009a00cd9a669a663300cd9a663300cd9a66cd9a66cd9a00669a0033669acd33669acdcd003366669a9acdcdcd0000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd669acd0033669acd0033669a669acd009a00660066cd66cdcd9acd9a9a33339a9a9a66cd336633669a33cd33cd33cd66003300cd9acd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd6633669acd0033663366339a339a009a009a003300330066009a0033009a00330033009a009a009a339a33669a663300cd9a669a66339a663300cd3300cd3300339acd00669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd9a3300cd66339a33660033669a33669acd0033669acd9acd00330066cd66cd33cd33cd66336633cd669a9a9a33339a9acd9acdcd66cd660066009a00cd9a669a663300cd9a663300cd9a66cd9a66cd9a00669a0033669a0033669acdcd003366669a9acdcdcd0000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd669acd0033669acd0033669a669acd009a00660066cd66cdcd9acd9a9a33339a9a9a66cd336633669a33cd33cd33cd66663300cd9acd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd0033669acd0033663366339a339a009a009a003300330066009a0033009a00cd0033009a009a009a339a33669a663300cd9acd9a66339a663300cd3300cd3300339acd00669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd9a3300cd66339a33660033669a33669acd0033669acd9acd00330066cd66cd33cd33cd66336633cd669a9a9a33339a9acd9acdcd66cd660066009a00cd9acd9a663300cd9a663300cd9a66cd9a66cd9a00669a0033669a0033669acdcd003366669a9acdcdcd0000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd669acd0033669acd0033669a669acd009a006600660066cdcd9acd9a9a33339a9a9a66cd336633669a33cd33cd33cd66663300cd9acd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd0033669acd0033663366339a339a339a009a003300330066009a0033009a00cd0033009a009a009a339a33669a663300cd9acd9a66339a663300cd3300cd3300339acd33669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd9a3300cd66339a33660033669acd669acd0033669a669acd00330066cd66cd33cd33cd66336633cd669a9a9a33339a9acd9acdcd66cd660066009a00cd9acd9a663300cd9a663300cd9a66cd9a66cd9a00669a0033669a0033669acdcd003366669a9acdcdcd0000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd669acd0033669acd0033669a669acd009a006600660066cdcd9acd9a9a33339a9a9a66cd336633669a33cd33cd33cd66663300cd9acd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd0033669acd0033663366339a339a339a009a003300330066009a0033009a00cd0033009a009a009a339a33669a663300cd9acd9a66339a663300cd9a00cd3300339acd33669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd9a3300cd66339a33660033669acd669acd0033669a669acd00330066cd66cd33cd33cd669a6633cd669a9a9a33339a9acd9acdcd66cd660066009a00cd9acd9a663300cd9a663300cd9a66cd9a66cd9a00669a0033669a0033669acdcd003366669a9acdcdcd0000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd009acd0033669acd0033669a669acd009a006600660066cdcd9acd9a9a33339a9a9a66cd336633669a33cd33cd33cd66663300cd9acd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd0033669acd0033663366339a339a339a009a003300330066009a0033009a00cd00cd009a009a009a339a33669a663300cd9acd9a663300663300cd9a00cd3300339acd33669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd9a3300cd66339a33669a33669acd669acd0033669a669acd00330066cd66cd33cd33cd669a6633cd669a9a9a33339a9acd9acdcd66cd660066006600cd9acd9a663300cd9a6633000000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd009acd0033669acd0033669a669acd009a006600660066cdcd9acd9a9a33339a9a9a66cd336633669a33cd33cd33cd66663300cd00cd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd0033669acd0033663366339a339a339a009a003300330066009a0033009a00cd00cd009a009a009a339a33669a663300cd9acd9a663300663300cd9a00cd3300339acd33669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd663300cd66339a33669a33669acd669acd0033669a669acd00330066cd66cd33cd33cd669a6633cd669a9a9a33339a9acd9acdcd66cd660066006600cd9acd9a663300cd9a663300cd9a66cd9a66cd9a00669a0033669a0033669acdcd003366669a9acdcdcd0000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd009acd0033669acd0033669a669acd009a006600660066cdcd9acd9a9a33339a9a9a66cd336633669a33cd33cd33cd66663300cd00cd9a663300cd9a66339a66330066339a3366cd00339acd0033669acd00003366669a9acdcdcd0000000000000000cdcdcd9a9a66333300cd9a663300cd9a6600cd9a330033cd0033cd0033669acd0033669acd003366336633cd339a339a009a003300330066009a0033009a00cd00cd009a009a009a339a33669a663300cd00cd9a663300663300cd9a00cd3300339acd33669acd0033669acd003333669a9acdcdcd0000000000000000cdcdcd9a9a6666330000cd9a663300cd663300cd66339a33669a33669acd669acd0033669a669acd00330066cd66cd33cd33cd669a669acd339a9a9a33339a9acd9acdcd66cd66cd66006600cd9acd9a663300cd9a663300cd9a66cd9a66cd9a00669a0033669a0033669acdcd003366669a9acdcdcd0000000000000000cdcdcd9a9a66663300cd9a9a6633cd9a6633009a66009acd669acd009acd0033669acd0033669a669acd009a0066006600990066003300330099009900993399336633663300cc99669966cc99663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc9900669900336699cc336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66003300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc66336699cc00336633663399339900990099003300330066009900330099003300330099009900993399336699663300cc996699663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933990099009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066006600cc99cc99663300cc996633000000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc003366336633cc33993399009900330033006600990033009900cc00cc0099009900993399336699663300cc00cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996699cc3399999933339999cc99cccc66cc66cc66006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc00990066006600990066003300330099009900993399336633663300cc99669966cc99663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc9900669900336699cc336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66003300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc66336699cc00336633663399339900990099003300330066009900330099003300330099009900993399336699663300cc996699663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933990099009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066006600cc99cc99663300cc996633000000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc003366336633cc33993399009900330033006600990033009900cc00cc0099009900993399336699663300cc00cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996699cc3399999933339999cc99cccc66cc66cc66006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc00990066006600990066003300330099009900993399336633663300cc99669966cc99663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc9900669900336699cc336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66003300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc66336699cc00336633663399339900990099003300330066009900330099003300330099009900993399336699663300cc996699663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933990099009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066006600cc99cc99663300cc996633000000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc003366336633cc33993399009900330033006600990033009900cc00cc0099009900993399336699663300cc00cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996699cc3399999933339999cc99cccc66cc66cc66006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc00990066006600990066003300330099009900993399336633663300cc99669966cc99663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc9900669900336699cc336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66003300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc66336699cc00336633663399339900990099003300330066009900330099003300330099009900993399336699663300cc996699663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933990099009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066006600cc99cc99663300cc996633000000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc003366336633cc33993399009900330033006600990033009900cc00cc0099009900993399336699663300cc00cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996699cc3399999933339999cc99cccc66cc66cc66006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc00990066006600990066003300330099409900993399336633663300cc99669966cc99663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc9900669900336699cc336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66003300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc66336699cc00336633663399339900990099003300330066009900330099003300330099009900993399336699663300cc996699663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc996699663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc009900660066cc66cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933990099009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc006699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699336699cc00336699cc99cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc3300cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66336633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc6699cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00330099009900993399336699663300cc99cc99663399663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336600336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066009900cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc99cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc993300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066006600cc99cc99663300cc996633000000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc0033663366339933993399009900330033006600990033009900cc00cc0099009900993399336699663300cc99cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996633cc6699999933339999cc99cccc66cc660066006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc0099006600660066cccc99cc9999333399999966cc336633669933cc33cc33cc66663300cc00cc99663300cc996633996633006633993366cc003399cc00336699cc00003366669999cccccc0000000000000000cccccc999966333300cc99663300cc996600cc99330033cc0033cc00336699cc00336699cc003366336633cc33993399009900330033006600990033009900cc00cc0099009900993399336699663300cc00cc99663300663300cc9900cc33003399cc336699cc00336699cc003333669999cccccc0000000000000000cccccc99996666330000cc99663300cc663300cc663399336699336699cc6699cc003366996699cc00330066cc66cc33cc33cc66996699cc3399999933339999cc99cccc66cc66cc66006600cc99cc99663300cc99663300cc9966cc9966cc990066990033669900336699cccc003366669999cccccc0000000000000000cccccc999966663300cc99996633cc9966330099660099cc6699cc0099cc00336699cc003366996699cc00990066006600c9e0e6f0f3f8fb0001530508090b0d0f1011121314141516171818191a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1e1d1c1b1b1a1918181716151413121211100e0c0a0807040300fefbf6f3ece6d9c9b9d3e3e9f1f4f9fc00020406080a0c0d1010111213141516161718191a1a1b1c1c1d1e1e1f202020212121212122222222222323232323232323232424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121213141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0d0b090805040100fbf8f3f0e6e0c900d3e0e9f0f3f8fb0001040508090b0d0f1011121314141516171819191a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1e1d1c1b1b1a1918181716151413121211100e0c0a0807040300fefbf6f3ece6d9c9b9d3e3e9f1f4f9fc00020406080a0c0d1010111213141516161718191a1a1b1c1c1d1e1e1f202020212121212222222222222323232323232323232424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121213141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0d0b090805040100fbf8f3f0e6e0c900d3e0e9f0f4f8fb0001040508090b0d0f1011121314141516171819191a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1e1d1c1b1b1a1918181716151413121211100e0c0a0807040300fefbf6f3ece6d9c9b9d3e3e9f1f4f9fc00020406080a0c0d1010111213141516161718191a1a1b1c1c1d1e1e1f202020212121212222222222222323232323232323232424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121213141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0d0b090705040100fbf8f3f0e6e0c900d3e0e9f0f4f8fb0001040508090b0d0f1011121314141516171819191a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1e1d1c1b1a1a1918181716151413121211100e0c0a0807040300fefbf6f3ece6d9c9b9d3e3e9f1f4f9fc00020406080a0c0d1010111213141516161718191a1a1b1c1c1d1e1e1f202020212121212222222222222323232323232323232424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121213141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0d0b090705040100fbf8f3f0e6e0c900d3e0e9f0f4f8fb0001040508090b0d0f1011121314141516171819191a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1e1d1c1b1a1a1918181716151413121211100e0c0a0807040300fef9f6f3ece6d9c9b9d3e3e9f1f4f9fc00020406080a0c0d1010111213141516161718191a1a1b1c1c1d1e1e1f202020212121212222222222222323232323232323232424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121213141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0d0b090705040100fbf8f3f0e6e0c900d3e0e9f0f4f8fc0001040508090b0d0f10111213141415161718191a1a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1d1d1c1b1a1a1918181716151413121211100e0c0a0807040300fef9f6f3ece6d9c9b9d3e3e9f1f4f9fc00020406080a0c0e1010111213141516161718191a2424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121214141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0d0b090705040100fbf8f3f0e6e0c900d3e0e9f0f4f8fc0001040508090b0d0f10111213141415161718191a1a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1d1d1c1b1a1a1918181716151413121211100e0c0a0807040300fef9f6f3ece6d9c9b9d3e3e9f1f4f9fc00020406080a0c0e1010111213141516161718191a1a1b1c1c1d1e1e1f202020212121212222222222222323232323232323232424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806040200fcf9f4f1e9e3d3b9c9d9e6ecf3f6fbfe01030407080b0c0e1011121214141516171818191a1b1b1c1d1e1e1f1f202020212121212222222222232323232323232323232424242424242424232323232323232323222222222221212121202020201f1e1e1d1c1c1b1a1918181716151414131211100f0c0b090705040100fbf8f3f0e6e0c900d3e0e9f0f4f8fc0001040508090b0d0f10111213141416161718191a1a1b1c1c1d1e1e1f202020202121212122222222222323232323232323232424242424242424232323232323232323232222222222212121212020201f1f1e1d1d1c1b1a1a1918181716151413121211100e0c0a0807040300fef9f6f1ece3d9c9b9d3e3e9f1f4f9fc00020406080a0c0e1010111213141516161718191a1a1b1c1c1d1e1e1f202020212121212222222222222323232323232323232424242424242424232323232323232323222222222221212121212020201f1e1e1d1c1c1b1a1a1918171616151413121110100d0c0a0806003f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f3fbfbfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f80bfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f3fbfbfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbf003f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f3fbfbfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f80bfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f3fbfbfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbf003f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f3fbfbfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f80bfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f3fbfbfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbf003f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f3fbfbfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f40404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040403f3f3f3f3f3f3f80bfbfbfbfbfbfbfc0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0c0bfbfbfbfbfbfbfbf3f3f3f3f3f3f3f3f404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404040404000a216000a0401009716	0	\\x000000000044a6400080189e3e26194300000000000000000064857edf261943666666666666064000483770df26194300000000000008403733333333b782400000000080715ebd4db81e8515160241d651b8de83d8e33d00000000000024c000bc8af44826194300000000004053400098252d3f26194300000036e99b274200000000000091be0000005d631a2642000000000000503e00000000005ca34000000000389cbc41000000000000f03f
\.


--
-- Data for Name: ledger_block_202602; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.ledger_block_202602 (tag_id, first_time, last_time, samples, good_samples, "least", "greatest", total, frame, uncertain_samples, summary) FROM stdin;
1	1769904000000000	1769911140000000	120	120	-10	2.5	-752.1999999999999	\\x3102788080def4970d780132030305030503050305030503050305030503050305030305030305030303050303030303030303030103030301030103010301010301010101010101000101000100010000010000000000000002000002000202000202020202020202020402020402040204040204040404040404040404040404060400780078	0	\\x0000000000005e400080d38cdf261943000000000000044000842233e626194366666666666610c00068d424e626194333333333333311c099999999998187c000000000006633bde27a14ae474bb840c0f5285ccfbb65bd00000000000024c000282f76e326194300000000000004400080d38cdf2619430000007e6efe24c20000000000c0963e00000003d4e624c200000000000064be0000000000c059400000000000000000000000000000f03f
2	1769904000000000	1769904060000000	2	2	12	9.223372036854776e+18	9.223372036854776e+18	\\x310a028080def4970d78110000000000405f41000203020100	0	\N
3	1769904000000000	1769904300000000	2	2	\N	\N	\N	\\x3106028080def4970dd8040000020002030202057265616479066cc3a4756674	0	\N
4	1769904000000000	1769904000000000	1	1	1	1	1	\\x3102018080def4970d000200010301	0	\\x000000000000f03f0080d38cdf261943000000000000f03f0080d38cdf261943000000000000f03f000000000000f87f000000000000f87f000000000000f03f0000000000000000000000000000f03f0000000000000000000000000000f03f0080d38cdf261943000000000000f03f0080d38cdf2619430000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000
6	1769904000000000	1769904000000000	1	1	1	1	1	\\x3102018080def4970d000200010301	0	\\x000000000000f03f0080d38cdf261943000000000000f03f0080d38cdf261943000000000000f03f000000000000f87f000000000000f87f000000000000f03f0000000000000000000000000000f03f0000000000000000000000000000f03f0080d38cdf261943000000000000f03f0080d38cdf2619430000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000000
\.


--
-- Data for Name: modified_sample_202601; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.modified_sample_202601 (tag_id, "time", value, text, status, origin, kind, modified_by, modified_at, reason) FROM stdin;
1	1769731800000000	2.5	\N	0	0	replaced	admin	2026-11-26 05:07:34.337+00	wrong span
1	1769853600000000	6.7	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769853660000000	6.9	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769853720000000	7.1	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769853780000000	7.2	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769853840000000	7.4	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769853900000000	7.6	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769853960000000	7.7	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854020000000	7.9	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854080000000	8	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854140000000	8.2	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854200000000	8.3	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854260000000	8.5	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854320000000	8.6	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854380000000	8.7	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854440000000	8.8	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854500000000	9	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854560000000	9.1	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854620000000	9.2	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854680000000	9.3	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854740000000	9.4	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854800000000	9.4	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854860000000	9.5	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854920000000	9.6	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769854980000000	9.7	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769855040000000	9.7	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769855100000000	9.8	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769855160000000	9.8	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769855220000000	9.9	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769855280000000	9.9	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
1	1769855340000000	9.9	\N	0	0	removed	admin	2026-11-26 05:07:34.377+00	test values
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
t	768	19	6048	2026-11-26 05:07:46.807956+00
\.


--
-- Data for Name: set_aside; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.set_aside (id, at, writer, tag, "time", value, status, reason) FROM stdin;
1	2026-11-26 05:07:34.32999+00	admin	Nobody	1769904000000000	1	0	There is no tag "Nobody".
\.


--
-- Data for Name: source; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.source (id, name, kind, connection) FROM stdin;
1	Device	modbus-tcp	{"host": "127.0.0.1", "port": 502, "unit": 1, "timeoutMilliseconds": 1000}
\.


--
-- Data for Name: store; Type: TABLE DATA; Schema: public; Owner: -
--

COPY public.store (id, name, sealed_url, retention_months, keeps_since) FROM stdin;
1	Embedded	\N	\N	\N
2	Second	wRY+1avU97ZyGSL9Md4VhiTtV7lHPKir+I3OeqOuhJYSs+VJa+smSRbYS65comMZ3sanTtsIqLPU/EF9PDly/KMGiNn8k35EXyCZMlx+gOctGOr+xLFDk1luNOaLyqxx/hx2zlmrlW2ZCQ==	\N	\N
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
1	A	real	m3/h			f	\N	\N	\N	1	{"source": "Device", "address": {"area": "holding", "type": "uint16", "order": "ABCD", "address": 1}, "aligned": true, "deadband": {"kind": "none"}, "intervalMilliseconds": 1000, "longestSilenceSeconds": null}	2026-11-26 05:07:34.176+00	2026-11-26 05:07:34.176557+00	1	\N
2	B	integer				t	\N	\N	\N	\N	\N	2026-11-26 05:07:34.176+00	2026-11-26 05:07:34.176557+00	1	\N
3	C	text				t	\N	\N	\N	\N	\N	2026-11-26 05:07:34.176+00	2026-11-26 05:07:34.176557+00	1	\N
4	D	boolean				t	\N	\N	\N	\N	\N	2026-11-26 05:07:34.176+00	2026-11-26 05:07:34.176557+00	1	\N
5	E	real				f	\N	\N	\N	\N	\N	2026-11-26 05:07:34.176+00	2026-11-26 05:07:34.176557+00	2	\N
6	F	state				t	\N	\N	{"0": "off", "1": "on"}	\N	\N	2026-11-26 05:07:34.176+00	2026-11-26 05:07:34.176557+00	1	\N
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
1	1	1	0	1769731200000000	1769911200000000
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

SELECT pg_catalog.setval('public.account_id_seq', 1, true);


--
-- Name: annotation_id; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.annotation_id', 1, true);


--
-- Name: job_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.job_id_seq', 1, true);


--
-- Name: journal_entry_id; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.journal_entry_id', 23, true);


--
-- Name: set_aside_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.set_aside_id_seq', 1, true);


--
-- Name: source_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.source_id_seq', 1, true);


--
-- Name: store_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.store_id_seq', 2, true);


--
-- Name: tag_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.tag_id_seq', 6, true);


--
-- Name: watch_id_seq; Type: SEQUENCE SET; Schema: public; Owner: -
--

SELECT pg_catalog.setval('public.watch_id_seq', 1, true);


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
-- Name: ledger_block_198706 ledger_block_198706_pkey; Type: CONSTRAINT; Schema: public; Owner: -
--

ALTER TABLE ONLY public.ledger_block_198706
    ADD CONSTRAINT ledger_block_198706_pkey PRIMARY KEY (tag_id, first_time);


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
-- Name: journal_entry_20261126_tx_id_idx; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX journal_entry_20261126_tx_id_idx ON public.journal_entry_20261126 USING btree (tx, id);


--
-- Name: journal_entry_20261127_tx_id_idx; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX journal_entry_20261127_tx_id_idx ON public.journal_entry_20261127 USING btree (tx, id);


--
-- Name: modified_sample_by_time; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX modified_sample_by_time ON ONLY public.modified_sample USING btree (tag_id, "time");


--
-- Name: modified_sample_202601_tag_id_time_idx; Type: INDEX; Schema: public; Owner: -
--

CREATE INDEX modified_sample_202601_tag_id_time_idx ON public.modified_sample_202601 USING btree (tag_id, "time");


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
-- Name: journal_entry_20261126_tx_id_idx; Type: INDEX ATTACH; Schema: public; Owner: -
--

ALTER INDEX public.journal_entry_order ATTACH PARTITION public.journal_entry_20261126_tx_id_idx;


--
-- Name: journal_entry_20261127_tx_id_idx; Type: INDEX ATTACH; Schema: public; Owner: -
--

ALTER INDEX public.journal_entry_order ATTACH PARTITION public.journal_entry_20261127_tx_id_idx;


--
-- Name: ledger_block_198706_pkey; Type: INDEX ATTACH; Schema: public; Owner: -
--

ALTER INDEX public.ledger_block_pkey ATTACH PARTITION public.ledger_block_198706_pkey;


--
-- Name: ledger_block_202601_pkey; Type: INDEX ATTACH; Schema: public; Owner: -
--

ALTER INDEX public.ledger_block_pkey ATTACH PARTITION public.ledger_block_202601_pkey;


--
-- Name: ledger_block_202602_pkey; Type: INDEX ATTACH; Schema: public; Owner: -
--

ALTER INDEX public.ledger_block_pkey ATTACH PARTITION public.ledger_block_202602_pkey;


--
-- Name: modified_sample_202601_tag_id_time_idx; Type: INDEX ATTACH; Schema: public; Owner: -
--

ALTER INDEX public.modified_sample_by_time ATTACH PARTITION public.modified_sample_202601_tag_id_time_idx;


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

\unrestrict uODoFVUr3Ra1LLxkKEG1dfJ3bqSP7STjbdK50EnvGONGo8ICT5XRww9DtJ3mcTA

