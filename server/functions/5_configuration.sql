-- What hot paths read of the configuration, projected from the definitions that are in force.

-- A definition's reference to another one; null where it has none.
CREATE OR REPLACE FUNCTION referred(body jsonb, field text) RETURNS integer LANGUAGE sql IMMUTABLE AS $$
  SELECT nullif(body ->> field, '')::integer
$$;

-- The settings with which a tag is read: its pace's, and its own where it departs from them.
CREATE OR REPLACE FUNCTION settings_in_force(pace jsonb, own jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
  SELECT jsonb_build_object('intervalMilliseconds', 1000, 'aligned', true, 'deadband', jsonb_build_object('kind', 'none'),
    'longestSilenceSeconds', NULL) || coalesce(pace, '{}') || coalesce(own, '{}')
$$;

-- What a collector is told of a tag; null where it is told nothing, since nobody reads it.
CREATE OR REPLACE FUNCTION told_to_collector(t tag) RETURNS jsonb LANGUAGE sql STABLE AS $$
  SELECT CASE WHEN t.source_id IS NOT NULL AND NOT t.paused AND t.retired_at IS NULL THEN
    jsonb_build_object('source', t.source_id, 'name', t.name, 'type', t.type, 'low', t.low, 'high', t.high, 'reading', t.reading) END
$$;

-- Brings the projections up to what one version changed. To be called in the transaction that made it. Returns whether
-- anything changed that collectors have to know.
CREATE OR REPLACE FUNCTION project_version(wanted integer) RETURNS boolean LANGUAGE plpgsql AS $$
DECLARE
  put_at timestamptz := (SELECT at FROM configuration_version WHERE number = wanted);
  put_micros bigint := (extract(epoch FROM put_at) * 1000000)::bigint;
  matters boolean := false;
  touched integer;
  -- What is projected here is what a server with an older one does not know yet.
  next_epoch bigint := (SELECT epoch + 1 FROM configuration);
BEGIN
  CREATE TEMP TABLE IF NOT EXISTS changed_definition (kind text, id integer, body jsonb, retired boolean, PRIMARY KEY (kind, id)) ON COMMIT DELETE ROWS;
  DELETE FROM changed_definition;
  INSERT INTO changed_definition SELECT kind, id, body, false FROM definition WHERE version_from = wanted;
  INSERT INTO changed_definition SELECT kind, id, body, true FROM definition WHERE version_to = wanted ON CONFLICT DO NOTHING;
  ANALYZE changed_definition;

  -- Places: a moved branch takes its paths along.
  IF EXISTS (SELECT FROM changed_definition WHERE kind = 'place') THEN
    -- Paths are unique, also on the way from one naming to another.
    UPDATE place SET path = 'changing ' || id WHERE id IN (SELECT id FROM changed_definition WHERE kind = 'place');
    INSERT INTO place (id, name, path) OVERRIDING SYSTEM VALUE
      SELECT id, body ->> 'name', 'changing ' || id FROM changed_definition WHERE kind = 'place' AND NOT retired
      ON CONFLICT (id) DO UPDATE SET name = excluded.name, retired = false;
    UPDATE place p SET parent_id = referred(c.body, 'parent')
      FROM changed_definition c WHERE c.kind = 'place' AND NOT c.retired AND c.id = p.id;
    WITH RECURSIVE branch AS (
      SELECT id, name AS path FROM place WHERE parent_id IS NULL
      UNION ALL
      SELECT p.id, b.path || ' / ' || p.name FROM place p JOIN branch b ON p.parent_id = b.id)
    UPDATE place p SET path = 'changing ' || p.id FROM branch b WHERE b.id = p.id AND b.path <> p.path;
    UPDATE place SET retired = true WHERE id IN (SELECT id FROM changed_definition WHERE kind = 'place' AND retired);
    WITH RECURSIVE branch AS (
      SELECT id, name AS path FROM place WHERE parent_id IS NULL
      UNION ALL
      SELECT p.id, b.path || ' / ' || p.name FROM place p JOIN branch b ON p.parent_id = b.id)
    UPDATE place p SET path = b.path FROM branch b WHERE b.id = p.id AND b.path <> p.path;
    UPDATE tag t SET place = p.path, epoch = next_epoch FROM place p WHERE p.id = t.place_id AND t.place <> p.path;
  END IF;

  INSERT INTO pace (id, name, settings) OVERRIDING SYSTEM VALUE
    SELECT id, body ->> 'name', body - 'name' - 'description' FROM changed_definition WHERE kind = 'pace'
    ON CONFLICT (id) DO UPDATE SET name = excluded.name, settings = excluded.settings;

  UPDATE store s SET name = c.body ->> 'name', retention_months = referred(c.body, 'retentionMonths')
    FROM changed_definition c WHERE c.kind = 'store' AND c.id = s.id;

  INSERT INTO family (id, name, retired_at)
    SELECT id, body ->> 'name', CASE WHEN retired THEN put_at END FROM changed_definition WHERE kind = 'family'
    ON CONFLICT (id) DO UPDATE SET name = excluded.name, retired_at = excluded.retired_at;

  INSERT INTO link (id, name, body, retired_at)
    SELECT id, body ->> 'name', body, CASE WHEN retired THEN put_at END FROM changed_definition WHERE kind = 'link'
    ON CONFLICT (id) DO UPDATE SET name = excluded.name, body = excluded.body, retired_at = excluded.retired_at;

  -- Sources. Their duty begins with their first version, and reaches back as far as any tag's does.
  INSERT INTO source (id, name, kind, connection, paused, collector, standby, standby_connection, change_over_seconds, stays_over, retired_at) OVERRIDING SYSTEM VALUE
    SELECT id, body ->> 'name', body ->> 'kind', body -> 'connection', (body ->> 'paused')::boolean,
           nullif(body ->> 'collector', ''), nullif(body ->> 'standby', ''), nullif(body -> 'standbyConnection', 'null'),
           (body ->> 'changeOverSeconds')::float8, coalesce((body ->> 'staysOver')::boolean, false), CASE WHEN retired THEN put_at END
    FROM changed_definition WHERE kind = 'source'
    ON CONFLICT (id) DO UPDATE SET name = excluded.name, kind = excluded.kind, connection = excluded.connection,
      paused = excluded.paused, collector = excluded.collector, standby = excluded.standby,
      standby_connection = excluded.standby_connection, change_over_seconds = excluded.change_over_seconds,
      stays_over = excluded.stays_over, retired_at = excluded.retired_at;
  GET DIAGNOSTICS touched = ROW_COUNT;
  matters := touched > 0;
  UPDATE source_duty d SET until = put_micros FROM source s
    WHERE s.id = d.source_id AND d.until IS NULL AND (s.paused OR s.retired_at IS NOT NULL);
  INSERT INTO source_duty (source_id, since)
    SELECT s.id, CASE WHEN EXISTS (SELECT FROM source_duty d WHERE d.source_id = s.id) THEN put_micros ELSE -9000000000000000 END
    FROM source s JOIN changed_definition c ON c.kind = 'source' AND c.id = s.id
    WHERE NOT s.paused AND s.retired_at IS NULL
      AND NOT EXISTS (SELECT FROM source_duty d WHERE d.source_id = s.id AND d.until IS NULL);

  -- What a tag was called stays its own until another one is called so.
  INSERT INTO tag_former_name (name, tag_id, until)
    SELECT t.name, t.id, put_at FROM tag t JOIN changed_definition c ON c.kind = 'tag' AND c.id = t.id
    WHERE NOT c.retired AND t.name <> c.body ->> 'name'
    ON CONFLICT (name) DO UPDATE SET tag_id = excluded.tag_id, until = excluded.until;
  DELETE FROM tag_former_name WHERE name IN (SELECT body ->> 'name' FROM changed_definition WHERE kind = 'tag' AND NOT retired);

  -- Tags: those that changed, and those whose pace did.
  INSERT INTO tag (id, name, type, unit, description, place, place_id, stepped, low, high, states, source_id, reading, pace_id,
                   settings, paused, retired_at, in_force_since, store_id, aggregate_configuration, counter, writable, labels, family_id, formula, inputs, told_version, epoch) OVERRIDING SYSTEM VALUE
    SELECT d.id, d.body ->> 'name', d.body ->> 'type', d.body ->> 'unit', d.body ->> 'description', coalesce(p.path, ''),
           p.id, (d.body ->> 'stepped')::boolean, (d.body ->> 'low')::float8, (d.body ->> 'high')::float8,
           nullif(d.body -> 'states', 'null'), referred(d.body, 'source'),
           CASE WHEN referred(d.body, 'source') IS NOT NULL THEN jsonb_strip_nulls(
             jsonb_build_object('address', d.body -> 'address', 'scaling', d.body -> 'scaling', 'standbyAddress', d.body -> 'standbyAddress',
                                'formula', d.body -> 'formula'))
             || settings_in_force(pace.settings, d.body -> 'settings') END,
           pace.id, coalesce(d.body -> 'settings', '{}'), (d.body ->> 'paused')::boolean, CASE WHEN d.retired THEN put_at END,
           least(put_at, (d.body ->> 'since')::timestamptz), referred(d.body, 'store'),
           nullif(d.body -> 'aggregateConfiguration', 'null'), nullif(d.body -> 'counter', 'null'),
           coalesce((d.body ->> 'writable')::boolean, false), nullif(d.body -> 'labels', 'null'), referred(d.body, 'family'), d.body ->> 'formula',
           CASE WHEN referred(d.body, 'source') IS NULL AND d.body ->> 'formula' IS NOT NULL THEN nullif(d.body -> 'inputs', 'null') END,
           wanted, next_epoch
    FROM (SELECT id, body, retired FROM changed_definition WHERE kind = 'tag'
          UNION ALL
          SELECT d.id, d.body, false FROM definition d JOIN tag t ON t.id = d.id
          WHERE d.kind = 'tag' AND d.version_to IS NULL AND t.pace_id IN (SELECT id FROM changed_definition WHERE kind = 'pace')
            AND NOT EXISTS (SELECT FROM changed_definition c WHERE c.kind = 'tag' AND c.id = d.id)) AS d
    LEFT JOIN place p ON p.id = referred(d.body, 'place')
    LEFT JOIN pace ON pace.id = referred(d.body, 'pace')
    -- The store and the first duty of a tag that is there stay: it moves by a job, and its past is its past.
    ON CONFLICT (id) DO UPDATE SET name = excluded.name, type = excluded.type, unit = excluded.unit,
      description = excluded.description, place = excluded.place, place_id = excluded.place_id, stepped = excluded.stepped,
      low = excluded.low, high = excluded.high, states = excluded.states, source_id = excluded.source_id,
      reading = excluded.reading, pace_id = excluded.pace_id, settings = excluded.settings, paused = excluded.paused,
      retired_at = excluded.retired_at, aggregate_configuration = excluded.aggregate_configuration, counter = excluded.counter, writable = excluded.writable,
      labels = excluded.labels, family_id = excluded.family_id, formula = excluded.formula, inputs = excluded.inputs,
      told_version = CASE WHEN told_to_collector(tag) IS DISTINCT FROM told_to_collector(excluded) THEN wanted ELSE tag.told_version END,
      epoch = excluded.epoch;
  UPDATE duty d SET until = put_micros FROM tag t JOIN changed_definition c ON c.kind = 'tag' AND c.id = t.id
    WHERE t.id = d.tag_id AND d.until IS NULL
      -- That of another site's source is for its link to say, unless the tag is no more.
      AND (t.retired_at IS NOT NULL OR (d.source_id > 0 AND (t.paused OR t.source_id IS DISTINCT FROM d.source_id)));
  INSERT INTO duty (tag_id, source_id, since)
    SELECT t.id, t.source_id, CASE WHEN EXISTS (SELECT FROM duty d WHERE d.tag_id = t.id AND d.source_id > 0) THEN put_micros
                                   ELSE least(put_micros, coalesce((extract(epoch FROM (c.body ->> 'since')::timestamptz) * 1000000)::bigint, put_micros)) END
    FROM tag t JOIN changed_definition c ON c.kind = 'tag' AND c.id = t.id
    WHERE t.source_id IS NOT NULL AND NOT t.paused AND t.retired_at IS NULL
      AND NOT EXISTS (SELECT FROM duty d WHERE d.tag_id = t.id AND d.until IS NULL AND d.source_id > 0);
  RETURN matters OR EXISTS (SELECT FROM tag WHERE epoch = next_epoch AND told_version = wanted);
END $$;
