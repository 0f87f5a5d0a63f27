-- Sessions are rows, so that they can be seen and ended. The cookie names one, and is signed.
CREATE TABLE session (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  account_id integer NOT NULL REFERENCES account ON DELETE CASCADE,
  since timestamptz NOT NULL DEFAULT now(),
  seen_at timestamptz NOT NULL DEFAULT now(),
  ends_at timestamptz NOT NULL,
  whence text NOT NULL,
  agent text NOT NULL
);
--> statement-breakpoint
-- A key of a collector belongs to that one: the name is given with the key, or is the first that the key is used for.
ALTER TABLE access_key ADD COLUMN ends_at timestamptz, ADD COLUMN revoked_at timestamptz, ADD COLUMN last_used_at timestamptz,
  ADD COLUMN last_used_from text, ADD COLUMN collector text;
--> statement-breakpoint
-- Who could correct until now, by writing, still can.
UPDATE account SET scopes = array_append(scopes, 'correct') WHERE 'write' = ANY(scopes) AND NOT 'correct' = ANY(scopes);
--> statement-breakpoint
UPDATE access_key SET scopes = array_append(scopes, 'correct') WHERE 'write' = ANY(scopes) AND NOT 'correct' = ANY(scopes);
--> statement-breakpoint
-- The password of the role for SQL tools, where it was changed in the application.
CREATE TABLE reader_password (only_row boolean PRIMARY KEY DEFAULT true CHECK (only_row), sealed text NOT NULL, changed_at timestamptz NOT NULL DEFAULT now());
--> statement-breakpoint
-- By which collector a source is read, by its name; null: by whichever there is.
ALTER TABLE source ADD COLUMN collector text;
