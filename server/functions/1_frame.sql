-- The frame codec of core/src/frame, read in PostgreSQL. Applied again whenever it changes.

-- A double to the last digit: a plain cast to numeric would round to fifteen.
CREATE OR REPLACE FUNCTION history.exact_numeric(v double precision) RETURNS numeric LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE WHEN v IS NULL THEN NULL
              ELSE (trunc(v / 4294967296)::bigint)::numeric * 4294967296 + (v - trunc(v / 4294967296) * 4294967296)::bigint END
$$;

CREATE OR REPLACE FUNCTION history.double_of_bits(bits bigint) RETURNS double precision LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
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

-- Times of one pace are laid out as a set, short numbers take one statement less each, and rows are handed out by
-- position instead of being unnested from five arrays: measured two to three times as fast.
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
  dict double precision[]; scale double precision; bits bigint; e int; v double precision; plane int; part bytea;
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
      part := substring(raw FROM pos + 1 FOR r::int);
      -- PostgreSQL's texts hold no U+0000; it is shown by its symbol, U+2400.
      WHILE position('\x00'::bytea IN part) > 0 LOOP
        part := overlay(part PLACING '\xe29080'::bytea FROM position('\x00'::bytea IN part) FOR 1);
      END LOOP;
      texts := texts || convert_from(part, 'UTF8');
      pos := pos + r::int;
    END LOOP;
  END IF;
  -- 64-bit integers: what is missing from the doubles next to them
  IF flags & 8 <> 0 THEN
    digits := array_fill(NULL::text, ARRAY[n]);
    FOR i IN 1 .. n LOOP
      b := get_byte(raw, pos); pos := pos + 1; r := b & 127; f := 7;
      WHILE b >= 128 LOOP b := get_byte(raw, pos); pos := pos + 1; r := r | ((b & 127)::bigint << f); f := f + 7; END LOOP;
      digits[i] := CASE WHEN vals[i] = trunc(vals[i]) AND abs(vals[i]) <= 9223372036854775808
                        -- More than lies between two doubles was written by an early version that had lost the integer.
                        THEN least(9223372036854775807, history.exact_numeric(vals[i])
                          + CASE WHEN (r >> 1) > 1024 THEN 0 ELSE (r >> 1) # -(r & 1) END)::text END;
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
