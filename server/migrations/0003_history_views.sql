-- SQL reads faster and further: removals, 64-bit integers, entries, gaps, hours, annotations and old values.

-- A double to the last digit: a plain cast to numeric would round to fifteen.
CREATE FUNCTION history.exact_numeric(v double precision) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN v IS NULL THEN NULL
              ELSE (trunc(v / 4294967296)::bigint)::numeric * 4294967296 + (v - trunc(v / 4294967296) * 4294967296)::bigint END
$$;

CREATE OR REPLACE FUNCTION history.decode_frame(given bytea)
RETURNS TABLE (tag bigint, micros bigint, value double precision, label text, status bigint, origin smallint)
LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
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
    RETURN QUERY SELECT u.t, u.m, u.x, NULL::text, u.s, u.o
      FROM unnest(coalesce(tags, ARRAY[]::bigint[]), times, vals, stats, coalesce(origs, ARRAY[]::smallint[])) AS u(t, m, x, s, o);
  ELSIF digits IS NULL THEN
    RETURN QUERY SELECT u.t, u.m, u.x, texts[u.x::int + 1], u.s, u.o
      FROM unnest(coalesce(tags, ARRAY[]::bigint[]), times, vals, stats, coalesce(origs, ARRAY[]::smallint[])) AS u(t, m, x, s, o);
  ELSE
    RETURN QUERY SELECT u.t, u.m, u.x, u.d, u.s, u.o
      FROM unnest(coalesce(tags, ARRAY[]::bigint[]), times, vals, digits, stats, coalesce(origs, ARRAY[]::smallint[])) AS u(t, m, x, d, s, o);
  END IF;
END $$;

CREATE OR REPLACE FUNCTION history.instant(micros bigint) RETURNS timestamptz LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT timestamptz 'epoch' + micros * interval '1 microsecond'
$$;

CREATE OR REPLACE FUNCTION history.origin(code smallint) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE code WHEN 0 THEN 'live' WHEN 1 THEN 'buffered' WHEN 2 THEN 'backfilled' WHEN 3 THEN 'entered'
                   WHEN 4 THEN 'corrected' WHEN 5 THEN 'derived' WHEN 6 THEN 'carried' END
$$;

-- The samples of a tag in ["from", "to"), posted or not. Rows are not sorted: add ORDER BY time. The column "text"
-- holds the text of a text tag, and all digits of integers that "value", a double, does not hold.
CREATE OR REPLACE FUNCTION history.sample(tag_name text, from_time timestamptz, to_time timestamptz)
RETURNS TABLE (tag text, "time" timestamptz, value double precision, text text, status bigint, quality text, origin text)
LANGUAGE plpgsql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
#variable_conflict use_column
DECLARE
  wanted record;
  -- History lies between 1685 and 2255; beyond, and at infinity, is as far as that.
  lo bigint := (extract(epoch FROM greatest(from_time, timestamptz '1685-01-01')) * 1000000)::bigint;
  hi bigint := (extract(epoch FROM least(to_time, timestamptz '2255-01-01')) * 1000000)::bigint;
  month_lo bigint := extract(epoch FROM date_trunc('month', greatest(from_time, timestamptz '1685-01-01') AT TIME ZONE 'UTC'))::bigint * 1000000;
  fresh bigint[];
BEGIN
  SELECT t.id, t.name, t.type = 'text' AS textual INTO wanted FROM tag t WHERE t.name = tag_name;
  IF NOT FOUND THEN RAISE EXCEPTION 'there is no tag "%"; SELECT tag FROM history.tag lists them', tag_name; END IF;
  -- Entries not yet posted: for one time stamp the latest stands, also before the ledger's.
  SELECT array_agg(DISTINCT d.micros) INTO fresh
    FROM journal_entry j, posting p, history.decode_frame(j.frame) d
    WHERE (j.tx, j.id) > (p.tx, p.id) AND j.tags @> ARRAY[wanted.id] AND j.first_time < hi AND j.last_time >= lo
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
        FROM journal_entry j, posting p, history.decode_frame(j.frame) d
        WHERE (j.tx, j.id) > (p.tx, p.id) AND j.tags @> ARRAY[wanted.id] AND j.first_time < hi AND j.last_time >= lo
          AND d.tag = wanted.id AND d.micros >= lo AND d.micros < hi
        ORDER BY d.micros, j.tx DESC, j.id DESC) AS n
      WHERE n.status <> 2157969408;
  END IF;
END $$;

DROP VIEW history.tag;
CREATE VIEW history.tag AS
  SELECT t.name AS tag, t.type, t.unit, t.description, t.place, t.stepped, t.low, t.high, s.name AS source,
         st.name AS store, t.in_force_since
  FROM public.tag t LEFT JOIN public.source s ON s.id = t.source_id JOIN public.store st ON st.id = t.store_id;

-- Where nobody was watching: of a source, or of one tag of it, with the cause that overlaps most.
CREATE VIEW history.gap AS
  SELECT s.name AS source, NULL::text AS tag, history.instant(lower(g.span)) AS since, history.instant(upper(g.span)) AS until,
         coalesce(o.cause, 'unknown') AS cause, o.sentence, coalesce(o.recoverable, false) AS recoverable
  FROM (SELECT source_id, (extract(epoch FROM min(in_force_since)) * 1000000)::bigint AS since
          FROM public.tag WHERE source_id IS NOT NULL GROUP BY source_id) AS due
  JOIN public.source s ON s.id = due.source_id
  CROSS JOIN LATERAL (SELECT range_agg(int8range(w.since, w.until)) AS spans FROM public.watch w
                      WHERE w.source_id = due.source_id AND w.until > w.since) AS watched
  CROSS JOIN LATERAL unnest(int8multirange(int8range(due.since, greatest(due.since,
    ((extract(epoch FROM now()) - 4) * 1000000)::bigint))) - coalesce(watched.spans, '{}'::int8multirange)) AS g(span)
  LEFT JOIN LATERAL (SELECT x.cause, x.sentence, x.recoverable FROM public.outage x
    WHERE x.source_id = due.source_id AND x.tag_id = 0 AND x.since < upper(g.span)
      AND coalesce(x.until, upper(g.span)) > lower(g.span)
    ORDER BY least(coalesce(x.until, upper(g.span)), upper(g.span)) - greatest(x.since, lower(g.span)) DESC LIMIT 1) AS o ON true
  UNION ALL
  SELECT s.name, t.name, history.instant(o.since), history.instant(o.until), o.cause, o.sentence, o.recoverable
  FROM public.outage o JOIN public.source s ON s.id = o.source_id JOIN public.tag t ON t.id = o.tag_id;

-- The journal, entry by entry.
CREATE VIEW history.entry AS
  SELECT j.id, j.received_at, j.writer, j.sequence, history.origin(j.origin) AS origin, j.samples,
         cardinality(j.tags) AS tags, history.instant(j.first_time) AS first_time, history.instant(j.last_time) AS last_time,
         j.reason, (j.tx, j.id) <= (p.tx, p.id) AS posted
  FROM public.journal_entry j, public.posting p;

-- Posted samples by UTC hour. Ask for one tag: a dense one is answered from its blocks' summaries, unopened.
CREATE VIEW history.hourly AS
  SELECT t.name AS tag, part.hour, sum(part.samples)::bigint AS samples, sum(part.good_samples)::bigint AS good_samples,
         min(part.least) AS least, max(part.greatest) AS greatest, sum(part.total) / nullif(sum(part.good_samples), 0) AS mean
  FROM public.tag t CROSS JOIN LATERAL (
    SELECT date_trunc('hour', history.instant(b.first_time), 'UTC') AS hour, b.samples, b.good_samples, b.least, b.greatest, b.total
    FROM public.ledger_block b WHERE b.tag_id = t.id AND b.first_time / 3600000000 = b.last_time / 3600000000
    UNION ALL
    SELECT date_trunc('hour', history.instant(d.micros), 'UTC'), count(*), count(*) FILTER (WHERE d.status >> 30 = 0),
           min(d.value) FILTER (WHERE d.status >> 30 = 0), max(d.value) FILTER (WHERE d.status >> 30 = 0),
           sum(d.value) FILTER (WHERE d.status >> 30 = 0)
    FROM public.ledger_block b, history.decode_frame(b.frame) d
    WHERE b.tag_id = t.id AND b.first_time / 3600000000 <> b.last_time / 3600000000 GROUP BY 1) AS part
  WHERE t.type <> 'text' GROUP BY t.name, part.hour;

-- What was replaced or removed, as posted.
CREATE VIEW history.modified AS
  SELECT t.name AS tag, history.instant(m.time) AS time, m.value, m.text, m.status, history.quality(m.status) AS quality,
         history.origin(m.origin) AS origin, m.kind, m.modified_at, m.modified_by, m.reason
  FROM public.modified_sample m JOIN public.tag t ON t.id = m.tag_id;

CREATE VIEW history.annotation AS
  SELECT t.name AS tag, history.instant(a.time) AS time, a.text, a.written_by, a.written_at
  FROM public.annotation a JOIN public.tag t ON t.id = a.tag_id;
