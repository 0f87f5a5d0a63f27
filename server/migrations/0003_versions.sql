-- Configuration in versions. What is in force are the rows of `definition` without an end; the tables that hot paths read
-- (place, pace, store, source, tag, duty) are projections of it, written in the same transaction.

CREATE TABLE configuration_version (
  number integer PRIMARY KEY,
  at timestamptz NOT NULL,
  put_by text NOT NULL,
  reason text NOT NULL,
  changes integer NOT NULL
);
CREATE TABLE definition (
  kind text NOT NULL,
  id integer NOT NULL,
  version_from integer NOT NULL,
  version_to integer,
  body jsonb NOT NULL,
  PRIMARY KEY (kind, id, version_from)
);
CREATE UNIQUE INDEX definition_in_force ON definition (kind, id) WHERE version_to IS NULL;
CREATE INDEX definition_by_start ON definition (version_from);
CREATE INDEX definition_by_end ON definition (version_to) WHERE version_to IS NOT NULL;

-- `version` is the newest version, `collector_version` the newest that matters to collectors, `epoch` grows with whatever
-- a server keeps in memory of all this.
ALTER TABLE configuration ADD COLUMN collector_version integer;
ALTER TABLE configuration ADD COLUMN epoch bigint NOT NULL DEFAULT 1;
UPDATE configuration SET collector_version = version;
ALTER TABLE configuration ALTER COLUMN collector_version SET NOT NULL;

CREATE TABLE place (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL,
  parent_id integer REFERENCES place,
  path text NOT NULL,
  retired boolean NOT NULL DEFAULT false
);
CREATE UNIQUE INDEX place_by_path ON place (path) WHERE NOT retired;
CREATE TABLE pace (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL UNIQUE DEFERRABLE,
  settings jsonb NOT NULL
);
-- Two names may change places in one version.
ALTER TABLE source DROP CONSTRAINT source_name_key, ADD UNIQUE (name) DEFERRABLE;
ALTER TABLE tag DROP CONSTRAINT tag_name_key, ADD UNIQUE (name) DEFERRABLE;
ALTER TABLE source ADD COLUMN paused boolean NOT NULL DEFAULT false;
ALTER TABLE source ADD COLUMN retired_at timestamptz;
ALTER TABLE tag ADD COLUMN place_id integer REFERENCES place;
ALTER TABLE tag ADD COLUMN pace_id integer REFERENCES pace;
ALTER TABLE tag ADD COLUMN settings jsonb NOT NULL DEFAULT '{}';
ALTER TABLE tag ADD COLUMN paused boolean NOT NULL DEFAULT false;
ALTER TABLE tag ADD COLUMN retired_at timestamptz;
-- The version that last changed what a collector is told of it.
ALTER TABLE tag ADD COLUMN told_version integer NOT NULL DEFAULT 0;
-- The configuration's epoch in which the row last changed: servers read what is newer than what they know.
ALTER TABLE tag ADD COLUMN epoch bigint NOT NULL DEFAULT 1;
CREATE INDEX tag_by_epoch ON tag (epoch);
ALTER TABLE tag RENAME COLUMN collection TO reading;
CREATE INDEX tag_by_place_id ON tag (place_id);
CREATE INDEX tag_by_pace_id ON tag (pace_id);

-- When a tag was meant to be read from which source; null: still is. Microseconds since 1970.
CREATE TABLE duty (
  tag_id integer NOT NULL,
  source_id integer NOT NULL,
  since bigint NOT NULL,
  until bigint,
  PRIMARY KEY (tag_id, since)
);
CREATE INDEX duty_by_source ON duty (source_id, since);
-- When a source was meant to be read at all.
CREATE TABLE source_duty (
  source_id integer NOT NULL,
  since bigint NOT NULL,
  until bigint,
  PRIMARY KEY (source_id, since)
);

CREATE TABLE draft (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  owner text NOT NULL UNIQUE,
  created_at timestamptz NOT NULL DEFAULT now(),
  updated_at timestamptz NOT NULL DEFAULT now()
);
-- `base` is what was in force when the change was begun: null for something new; `body` null: to be retired.
CREATE TABLE draft_item (
  draft_id integer NOT NULL REFERENCES draft ON DELETE CASCADE,
  kind text NOT NULL,
  id integer NOT NULL,
  base jsonb,
  body jsonb,
  PRIMARY KEY (draft_id, kind, id)
);
-- What each edit found, so that it can be undone: items as they were, null where the draft did not touch them.
CREATE TABLE draft_step (
  draft_id integer NOT NULL REFERENCES draft ON DELETE CASCADE,
  number integer NOT NULL,
  found jsonb NOT NULL,
  PRIMARY KEY (draft_id, number)
);

-- The configuration as it was found: its one version, with the number that collectors have heard of.
INSERT INTO configuration_version (number, at, put_by, reason, changes)
  SELECT version, now(), 'Wide Ledger', 'What was there when versions began.', 0 FROM configuration;

INSERT INTO place (name, path)
  SELECT DISTINCT ON (path) parts[n], path FROM (
    SELECT parts, n, array_to_string(parts[1:n], ' / ') AS path
    FROM (SELECT DISTINCT regexp_split_to_array(btrim(place, ' /'), '\s*/\s*') AS parts FROM tag WHERE btrim(place, ' /') <> '') AS given,
         generate_series(1, cardinality(parts)) AS n) AS nodes ORDER BY path;
UPDATE place p SET parent_id = above.id FROM place above
  WHERE p.path = above.path || ' / ' || p.name;
UPDATE tag SET place = array_to_string(regexp_split_to_array(btrim(place, ' /'), '\s*/\s*'), ' / ');
UPDATE tag t SET place_id = p.id FROM place p WHERE p.path = t.place;
UPDATE tag SET reading = reading - 'source', settings = coalesce(reading, '{}') - 'source' - 'address' - 'scaling';

INSERT INTO definition (kind, id, version_from, body)
  SELECT 'place', p.id, c.version, jsonb_build_object('name', p.name, 'parent', p.parent_id) FROM place p, configuration c
  UNION ALL
  SELECT 'store', s.id, c.version, jsonb_build_object('name', s.name, 'retentionMonths', s.retention_months) FROM store s, configuration c
  UNION ALL
  SELECT 'source', s.id, c.version, jsonb_build_object('name', s.name, 'kind', s.kind, 'connection', s.connection, 'paused', false) FROM source s, configuration c
  UNION ALL
  SELECT 'tag', t.id, c.version, jsonb_build_object(
    'name', t.name, 'type', t.type, 'unit', t.unit, 'description', t.description, 'place', t.place_id, 'stepped', t.stepped,
    'low', t.low, 'high', t.high, 'states', t.states, 'store', t.store_id, 'source', t.source_id,
    'address', t.reading -> 'address', 'scaling', t.reading -> 'scaling', 'pace', NULL, 'settings', t.settings, 'paused', false,
    'aggregateConfiguration', t.aggregate_configuration, 'counter', t.counter,
    'since', to_char(t.in_force_since AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"'))
  FROM tag t, configuration c;
UPDATE configuration_version SET changes = (SELECT count(*) FROM definition);

INSERT INTO duty (tag_id, source_id, since)
  SELECT id, source_id, (extract(epoch FROM in_force_since) * 1000000)::bigint FROM tag WHERE source_id IS NOT NULL;
INSERT INTO source_duty (source_id, since) SELECT id, -9000000000000000 FROM source;
