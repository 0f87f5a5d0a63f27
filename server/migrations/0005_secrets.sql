-- Passwords and keys that definitions refer to by number, sealed under the site's key. Never in a body, so that neither
-- versions nor drafts nor the logbook hold any.
CREATE TABLE secret (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  sealed text NOT NULL,
  kept_by text NOT NULL,
  kept_at timestamptz NOT NULL DEFAULT now()
);
-- What was paused, and when, is asked for with every list of gaps.
CREATE INDEX definition_paused ON definition (kind, id, version_from) WHERE body ->> 'paused' = 'true';
