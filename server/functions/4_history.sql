-- SQL as a way in: rows out of ledger blocks and entries not yet posted, for any SQL tool. Applied again whenever it changes.

CREATE OR REPLACE FUNCTION history.quality(status bigint) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE status >> 30 WHEN 0 THEN 'Good' WHEN 1 THEN 'Uncertain' ELSE 'Bad' END
$$;

CREATE OR REPLACE FUNCTION history.origin(code smallint) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT CASE code WHEN 0 THEN 'live' WHEN 1 THEN 'buffered' WHEN 2 THEN 'backfilled' WHEN 3 THEN 'entered'
                   WHEN 4 THEN 'corrected' WHEN 5 THEN 'derived' WHEN 6 THEN 'carried' END
$$;

CREATE OR REPLACE FUNCTION history.instant(micros bigint) RETURNS timestamptz LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT timestamptz 'epoch' + micros * interval '1 microsecond'
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
  fresh bigint[];
  -- In a variable, so that posted entries are passed over before they are decoded.
  mark bigint := (SELECT p.entry FROM posting p);
BEGIN
  SELECT t.id, t.name, t.type = 'text' AS textual INTO wanted FROM tag t WHERE t.name = tag_name;
  IF NOT FOUND THEN
    SELECT t.id, t.name, t.type = 'text' AS textual INTO wanted
      FROM tag_former_name f JOIN tag t ON t.id = f.tag_id WHERE f.name = tag_name;
    IF FOUND THEN RAISE NOTICE '% is called % by now.', tag_name, wanted.name; END IF;
  END IF;
  IF NOT FOUND THEN RAISE EXCEPTION 'there is no tag "%"; SELECT tag FROM history.tag lists them', tag_name; END IF;
  IF mark IS NULL THEN RAISE EXCEPTION 'this store waits for its site to be started'; END IF;
  -- Entries not yet posted: for one time stamp the latest stands, also before the ledger's.
  SELECT array_agg(DISTINCT d.micros) INTO fresh
    FROM journal_entry j, history.decode_frame(j.frame) d
    WHERE j.id > mark AND j.tags @> ARRAY[wanted.id] AND j.first_time < hi AND j.last_time >= lo
      AND d.tag = wanted.id AND d.micros >= lo AND d.micros < hi;
  RETURN QUERY SELECT wanted.name, timestamptz 'epoch' + d.micros * interval '1 microsecond',
      CASE WHEN wanted.textual THEN NULL ELSE d.value END, d.label, d.status,
      CASE d.status >> 30 WHEN 0 THEN 'Good' WHEN 1 THEN 'Uncertain' ELSE 'Bad' END, history.origin(d.origin)
    FROM history.ledger_overlap(wanted.id, lo, hi) b, history.decode_frame(b.frame) d
    WHERE d.micros >= lo AND d.micros < hi AND (fresh IS NULL OR d.micros <> ALL (fresh));
  IF fresh IS NOT NULL THEN
    -- 0x80A00000 says that the value was removed.
    RETURN QUERY SELECT wanted.name, history.instant(n.micros), CASE WHEN wanted.textual THEN NULL ELSE n.value END,
        n.label, n.status, history.quality(n.status), history.origin(n.came)
      FROM (SELECT DISTINCT ON (d.micros) d.micros, d.value, d.label, d.status, j.origin AS came
        FROM journal_entry j, history.decode_frame(j.frame) d
        WHERE j.id > mark AND j.tags @> ARRAY[wanted.id] AND j.first_time < hi AND j.last_time >= lo
          AND d.tag = wanted.id AND d.micros >= lo AND d.micros < hi
        ORDER BY d.micros, j.id DESC) AS n
      WHERE n.status <> 2157969408;
  END IF;
END $$;

DROP VIEW IF EXISTS history.tag, history.coverage, history.gap, history.entry, history.hourly, history.modified, history.annotation, history.missed;
DROP VIEW IF EXISTS public.named_source;

-- Sources of the site, and those of other sites whose history arrives: these have negative numbers.
CREATE VIEW public.named_source AS
  SELECT id, name FROM public.source
  -- Names that say already where they are from need not say it twice.
  UNION ALL SELECT s.id, CASE WHEN starts_with(s.name, coalesce(a.site_name, a.name)) THEN '' ELSE coalesce(a.site_name, a.name) || ': ' END || s.name FROM public.arriving_source s JOIN public.arrival a ON a.id = s.arrival_id;

CREATE VIEW history.tag AS
  SELECT t.name AS tag, t.type, t.unit, t.description, t.place, t.stepped, t.low, t.high, s.name AS source,
         st.name AS store, t.in_force_since
  FROM public.tag t LEFT JOIN public.named_source s ON s.id = t.source_id JOIN public.store st ON st.id = t.store_id;

CREATE VIEW history.coverage AS
  SELECT s.name AS source, history.instant(w.since) AS since, history.instant(w.until) AS until, history.origin(w.origin) AS origin, w.version
  FROM public.watch w JOIN public.named_source s ON s.id = w.source_id
  UNION ALL
  SELECT s.name, history.instant(r.since), history.instant(r.until), 'backfilled', NULL
  FROM public.recovery r JOIN public.named_source s ON s.id = r.source_id WHERE r.tag_id = 0 AND r.outcome = 'recovered';

-- Where nobody was watching: of a source, or of one tag of it, with the cause that overlaps most.
CREATE VIEW history.gap AS
  SELECT s.name AS source, NULL::text AS tag, history.instant(lower(g.span)) AS since, history.instant(upper(g.span)) AS until,
         coalesce(o.cause, 'unknown') AS cause, o.sentence, coalesce(o.recoverable, false) AS recoverable
  FROM (SELECT d.source_id, range_agg(int8range(d.since, coalesce(d.until, 9000000000000000))) * o.spans AS spans
          FROM (SELECT source_id, since, until FROM public.duty GROUP BY 1, 2, 3) AS d
          JOIN (SELECT source_id, range_agg(int8range(since, coalesce(until, 9000000000000000))) AS spans
                FROM public.source_duty GROUP BY source_id) AS o ON o.source_id = d.source_id
          GROUP BY d.source_id, o.spans) AS due
  JOIN public.named_source s ON s.id = due.source_id
  CROSS JOIN LATERAL (SELECT coalesce(range_agg(int8range(w.since, w.until)), '{}'::int8multirange)
                        - coalesce((SELECT range_agg(int8range(x.since, x.until)) FROM public.outage x
                            WHERE x.source_id = due.source_id AND x.tag_id = 0 AND x.within_watch AND x.until > x.since), '{}'::int8multirange)
                        + coalesce((SELECT range_agg(int8range(r.since, r.until)) FROM public.recovery r
                            WHERE r.source_id = due.source_id AND r.tag_id = 0 AND r.outcome = 'recovered' AND r.until > r.since), '{}'::int8multirange) AS spans
                      FROM public.watch w WHERE w.source_id = due.source_id AND w.until > w.since) AS watched
  CROSS JOIN LATERAL unnest(due.spans * int8multirange(int8range(NULL, ((extract(epoch FROM now()) - 4) * 1000000)::bigint))
    - coalesce(watched.spans, '{}'::int8multirange)) AS g(span)
  LEFT JOIN LATERAL (SELECT x.cause, x.sentence, x.recoverable FROM public.outage x
    WHERE x.source_id = due.source_id AND x.tag_id = 0 AND x.since < upper(g.span)
      AND coalesce(x.until, upper(g.span)) > lower(g.span)
    ORDER BY least(coalesce(x.until, upper(g.span)), upper(g.span)) - greatest(x.since, lower(g.span)) DESC LIMIT 1) AS o ON true
  UNION ALL
  SELECT s.name, t.name, history.instant(o.since), history.instant(o.until), o.cause, o.sentence, o.recoverable
  FROM public.outage o JOIN public.named_source s ON s.id = o.source_id JOIN public.tag t ON t.id = o.tag_id
  WHERE NOT EXISTS (SELECT FROM public.recovery r WHERE r.source_id = o.source_id AND r.tag_id = o.tag_id
    AND r.outcome = 'recovered' AND r.since <= o.since AND r.until >= o.until)
  UNION ALL
  SELECT s.name, t.name, history.instant(r.since), history.instant(r.until), 'source', r.sentence, false
  FROM public.recovery r JOIN public.named_source s ON s.id = r.source_id JOIN public.tag t ON t.id = r.tag_id
  WHERE r.outcome = 'gone' AND EXISTS (SELECT FROM public.recovery w WHERE w.source_id = r.source_id AND w.tag_id = 0
    AND w.outcome = 'recovered' AND w.since <= r.since AND w.until >= r.until);
CREATE VIEW history.missed AS
  SELECT s.name AS source, t.name AS tag, history.instant(r.since) AS since, history.instant(r.until) AS until, r.outcome, r.sentence
  FROM public.recovery r JOIN public.named_source s ON s.id = r.source_id LEFT JOIN public.tag t ON t.id = r.tag_id;

-- The journal, entry by entry.
CREATE VIEW history.entry AS
  SELECT j.id, j.received_at, j.writer, j.sequence, history.origin(j.origin) AS origin, j.samples,
         cardinality(j.tags) AS tags, history.instant(j.first_time) AS first_time, history.instant(j.last_time) AS last_time,
         j.reason, j.id <= p.entry AS posted
  FROM public.journal_entry j, public.posting p;

-- Posted samples by UTC hour. Ask for one tag: a dense one is answered from its blocks' summaries, unopened.
CREATE VIEW history.hourly AS
  SELECT t.name AS tag, part.hour, sum(part.samples)::bigint AS samples, sum(part.good_samples)::bigint AS good_samples,
         min(part.least) AS least, max(part.greatest) AS greatest, sum(part.total) / nullif(sum(part.good_samples), 0) AS mean
  FROM public.tag t CROSS JOIN LATERAL (
    SELECT date_trunc('hour', history.instant(b.first_time), 'UTC') AS hour, b.samples, b.good_samples, b.least, b.greatest, b.total
    FROM history.ledger_overlap(t.id, -9000000000000000, 9000000000000000) b WHERE b.first_time / 3600000000 = b.last_time / 3600000000
    UNION ALL
    SELECT date_trunc('hour', history.instant(d.micros), 'UTC'), count(*), count(*) FILTER (WHERE d.status >> 30 = 0),
           min(d.value) FILTER (WHERE d.status >> 30 = 0), max(d.value) FILTER (WHERE d.status >> 30 = 0),
           sum(d.value) FILTER (WHERE d.status >> 30 = 0)
    FROM history.ledger_overlap(t.id, -9000000000000000, 9000000000000000) b, history.decode_frame(b.frame) d
    WHERE b.first_time / 3600000000 <> b.last_time / 3600000000 GROUP BY 1) AS part
  WHERE t.type <> 'text' GROUP BY t.name, part.hour;

-- What was replaced or removed, as posted.
CREATE VIEW history.modified AS
  SELECT t.name AS tag, history.instant(m.time) AS time, m.value, m.text, m.status, history.quality(m.status) AS quality,
         history.origin(m.origin) AS origin, m.kind, m.modified_at, m.modified_by, m.reason
  FROM public.modified_sample m JOIN public.tag t ON t.id = m.tag_id;

CREATE VIEW history.annotation AS
  SELECT t.name AS tag, history.instant(a.time) AS time, a.text, a.written_by, a.written_at
  FROM public.annotation a JOIN public.tag t ON t.id = a.tag_id;
