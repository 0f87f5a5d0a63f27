-- SQL as a way in: rows out of ledger blocks and entries not yet posted, for any SQL tool.
CREATE SCHEMA history;

-- The frame codec of core/src/frame, read here. Returns nothing else than what the frame holds.
CREATE FUNCTION history.decode_frame(given bytea)
RETURNS TABLE (tag bigint, micros bigint, value double precision, label text, status bigint, origin smallint)
LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  raw bytea := given || ''::bytea; -- detoasted once, not at every byte
  pos int := 2;
  flags int := get_byte(raw, 1);
  n int; i int; j int; k int; b int;
  r bigint; f int;
  mode int; unit bigint; at bigint; step bigint;
  times bigint[]; vals double precision[]; stats bigint[]; tags bigint[]; origs smallint[]; texts text[]; holes int[];
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
    FOR i IN 1 .. n LOOP
      IF i <= 2 OR mode < 128 THEN
        b := get_byte(raw, pos); pos := pos + 1; r := b & 127; f := 7;
        WHILE b >= 128 LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); f := f + 7; END LOOP;
        r := ((r >> 1) # -(r & 1)) * unit;
        IF i = 1 THEN at := r; ELSE step := step + r; END IF;
      END IF;
      IF i > 1 THEN at := at + step; END IF;
      times[i] := at;
    END LOOP;
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
      b := get_byte(raw, pos); pos := pos + 1; r := b & 127; f := 7;
      WHILE b >= 128 LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); f := f + 7; END LOOP;
      at := at + ((r >> 1) # -(r & 1));
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
      b := get_byte(raw, pos); pos := pos + 1; r := b & 127; f := 7;
      WHILE b >= 128 LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); f := f + 7; END LOOP;
      at := at + ((r >> 1) # -(r & 1));
      vals[i] := dict[at + 1];
    END LOOP;
  ELSIF mode = 17 THEN
    FOR i IN 0 .. n - 1 LOOP
      bits := get_byte(raw, pos + i) | (get_byte(raw, pos + n + i) << 8) | (get_byte(raw, pos + 2 * n + i) << 16) | (get_byte(raw, pos + 3 * n + i)::bigint << 24);
      e := ((bits >> 23) & 255)::int;
      IF e = 255 THEN v := CASE WHEN bits & 8388607 <> 0 THEN 'NaN' ELSE 'Infinity' END;
      ELSIF e = 0 THEN v := (bits & 8388607)::double precision * power(2::double precision, -149);
      ELSE v := ((bits & 8388607) + 8388608)::double precision * power(2::double precision, e - 150);
      END IF;
      vals[i + 1] := CASE WHEN bits >= 2147483648 THEN -v ELSE v END;
    END LOOP;
    pos := pos + 4 * n;
  ELSIF mode = 18 THEN
    FOR i IN 0 .. n - 1 LOOP
      bits := 0;
      FOR plane IN REVERSE 7 .. 0 LOOP bits := (bits << 8) | get_byte(raw, pos + plane * n + i); END LOOP;
      vals[i + 1] := history.double_of_bits(bits);
    END LOOP;
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
  RETURN QUERY SELECT u.t, u.m, u.x, texts[u.x::int + 1], u.s, u.o
    FROM unnest(coalesce(tags, array_fill(NULL::bigint, ARRAY[n])), times, vals, stats, coalesce(origs, array_fill(NULL::smallint, ARRAY[n]))) AS u(t, m, x, s, o)
    WHERE texts IS NOT NULL
    UNION ALL
    SELECT u.t, u.m, u.x, NULL, u.s, u.o
    FROM unnest(coalesce(tags, array_fill(NULL::bigint, ARRAY[n])), times, vals, stats, coalesce(origs, array_fill(NULL::smallint, ARRAY[n]))) AS u(t, m, x, s, o)
    WHERE texts IS NULL;
END $$;

CREATE FUNCTION history.double_of_bits(bits bigint) RETURNS double precision LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
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

CREATE FUNCTION history.quality(status bigint) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE status >> 30 WHEN 0 THEN 'Good' WHEN 1 THEN 'Uncertain' ELSE 'Bad' END
$$;

CREATE FUNCTION history.origin(code smallint) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT (ARRAY['live', 'buffered', 'backfilled', 'entered', 'corrected', 'derived', 'carried'])[code + 1]
$$;

CREATE FUNCTION history.instant(micros bigint) RETURNS timestamptz LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT timestamptz 'epoch' + (micros / 1000000) * interval '1 second' + (micros % 1000000) * interval '1 microsecond'
$$;

-- The samples of a tag in ["from", "to"), posted or not. Rows are not sorted: add ORDER BY time.
CREATE FUNCTION history.sample(tag_name text, from_time timestamptz, to_time timestamptz)
RETURNS TABLE (tag text, "time" timestamptz, value double precision, text text, status bigint, quality text, origin text)
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
#variable_conflict use_column
DECLARE
  wanted record;
  lo bigint := (extract(epoch FROM from_time) * 1000000)::bigint;
  hi bigint := (extract(epoch FROM to_time) * 1000000)::bigint;
  month_lo bigint := extract(epoch FROM date_trunc('month', from_time AT TIME ZONE 'UTC'))::bigint * 1000000;
  fresh bigint[];
  block record;
BEGIN
  SELECT t.id, t.name, t.type = 'text' AS textual INTO wanted FROM tag t WHERE t.name = tag_name;
  IF NOT FOUND THEN RAISE EXCEPTION 'there is no tag "%"; SELECT tag FROM history.tag lists them', tag_name; END IF;
  -- Entries not yet posted: for one time stamp the latest stands, also before the ledger's.
  SELECT array_agg(DISTINCT d.micros) INTO fresh
    FROM journal_entry j, posting p, history.decode_frame(j.frame) d
    WHERE (j.tx, j.id) > (p.tx, p.id) AND j.tags @> ARRAY[wanted.id] AND j.first_time < hi AND j.last_time >= lo
      AND d.tag = wanted.id AND d.micros >= lo AND d.micros < hi;
  FOR block IN SELECT b.frame FROM ledger_block b
    WHERE b.tag_id = wanted.id AND b.first_time >= month_lo AND b.first_time < hi AND b.last_time >= lo ORDER BY b.first_time
  LOOP
    RETURN QUERY SELECT wanted.name, history.instant(d.micros), CASE WHEN wanted.textual THEN NULL ELSE d.value END,
        CASE WHEN wanted.textual THEN d.label END, d.status, history.quality(d.status), history.origin(d.origin)
      FROM history.decode_frame(block.frame) d
      WHERE d.micros >= lo AND d.micros < hi AND (fresh IS NULL OR d.micros <> ALL (fresh));
  END LOOP;
  IF fresh IS NOT NULL THEN
    RETURN QUERY SELECT DISTINCT ON (d.micros) wanted.name, history.instant(d.micros), CASE WHEN wanted.textual THEN NULL ELSE d.value END,
        CASE WHEN wanted.textual THEN d.label END, d.status, history.quality(d.status), history.origin(j.origin)
      FROM journal_entry j, posting p, history.decode_frame(j.frame) d
      WHERE (j.tx, j.id) > (p.tx, p.id) AND j.tags @> ARRAY[wanted.id] AND j.first_time < hi AND j.last_time >= lo
        AND d.tag = wanted.id AND d.micros >= lo AND d.micros < hi
      ORDER BY d.micros, j.tx DESC, j.id DESC;
  END IF;
END $$;

CREATE VIEW history.tag AS
  SELECT t.name AS tag, t.type, t.unit, t.description, t.place, t.stepped, t.low, t.high, s.name AS source, t.in_force_since
  FROM public.tag t LEFT JOIN public.source s ON s.id = t.source_id;

CREATE VIEW history.coverage AS
  SELECT s.name AS source, history.instant(w.since) AS since, history.instant(w.until) AS until, history.origin(w.origin) AS origin, w.version
  FROM public.watch w JOIN public.source s ON s.id = w.source_id;
