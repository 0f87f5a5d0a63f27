-- The papers of links: what goes with values without being one. For which times the far end has all of a tag.
ALTER TABLE link_tag ADD COLUMN carried int8multirange NOT NULL DEFAULT '{}';
--> statement-breakpoint
-- Sources of other sites whose tags arrive here. Their numbers are negative, so that their watches, outages and duties
-- stand beside those of the site's own.
CREATE SEQUENCE arriving_source_number;
--> statement-breakpoint
CREATE TABLE arriving_source (
  id integer PRIMARY KEY DEFAULT -nextval('arriving_source_number')::integer,
  arrival_id integer NOT NULL,
  number integer NOT NULL,
  name text NOT NULL,
  UNIQUE (arrival_id, number)
);
--> statement-breakpoint
-- By what it is known again which papers are here: the print is the sender's.
CREATE TABLE arriving_paper (
  arrival_id integer NOT NULL,
  kind text NOT NULL,
  number integer NOT NULL,
  day bigint NOT NULL DEFAULT 0,
  print text NOT NULL,
  PRIMARY KEY (arrival_id, kind, number, day)
);
--> statement-breakpoint
-- What was changed of the definition of an arriving tag where it comes from, by the link's numbers.
CREATE TABLE arriving_change (
  arrival_id integer NOT NULL,
  number integer NOT NULL,
  place integer NOT NULL,
  at timestamptz NOT NULL,
  put_by text NOT NULL,
  reason text NOT NULL,
  fields jsonb NOT NULL,
  PRIMARY KEY (arrival_id, number, place)
);
--> statement-breakpoint
-- The number of an annotation where it was written; null: here.
ALTER TABLE annotation ADD COLUMN carried_id bigint;
--> statement-breakpoint
-- What was said where the source is; null: here.
ALTER TABLE gap_explanation ADD COLUMN arriving_source integer;
--> statement-breakpoint
-- Times in which nothing was heard of an arriving link, once they are over.
CREATE TABLE arrival_silence (
  arrival_id integer NOT NULL,
  since timestamptz NOT NULL,
  until timestamptz NOT NULL,
  PRIMARY KEY (arrival_id, since)
);
--> statement-breakpoint
-- When the collector takes the second way to a source, and whether it stays there.
ALTER TABLE source ADD COLUMN change_over_seconds double precision, ADD COLUMN stays_over boolean NOT NULL DEFAULT false;
