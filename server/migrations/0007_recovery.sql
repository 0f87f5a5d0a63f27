-- What became of what was missed: `wanted` while a collector is after it, `recovered` out of the source's own history, or
-- `gone` for good. Tag 0 stands for the whole source; what is gone of a tag is an exception to what is recovered of it.
CREATE TABLE recovery (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  source_id integer NOT NULL,
  tag_id integer NOT NULL DEFAULT 0,
  since bigint NOT NULL,
  until bigint NOT NULL,
  outcome text NOT NULL,
  sentence text NOT NULL DEFAULT '',
  said_at timestamptz NOT NULL DEFAULT now()
);
--> statement-breakpoint
CREATE INDEX recovery_by_end ON recovery (source_id, until);
--> statement-breakpoint
CREATE INDEX recovery_of_tag ON recovery (source_id, tag_id, outcome, until);
--> statement-breakpoint
-- What people say of stretches in which nothing was, or will be, watched. What is taken back stays, with who did it.
CREATE TABLE gap_explanation (
  id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  kind text NOT NULL CHECK (kind IN ('tag', 'source', 'place')),
  item_id integer,
  about text NOT NULL,
  since bigint NOT NULL,
  until bigint NOT NULL,
  said_by text NOT NULL,
  reason text NOT NULL,
  said_at timestamptz NOT NULL DEFAULT now(),
  taken_back_at timestamptz,
  taken_back_by text
);
--> statement-breakpoint
CREATE INDEX gap_explanation_by_end ON gap_explanation (until) WHERE taken_back_at IS NULL;
