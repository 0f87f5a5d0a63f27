-- What befell a link, in the order in which it did; the oldest go.
CREATE TABLE link_event (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  link_id integer NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  what text NOT NULL,
  sentence text NOT NULL
);
--> statement-breakpoint
CREATE INDEX link_event_of_link ON link_event (link_id, id);
--> statement-breakpoint
-- Up to when both ends were compared by the link's own schedule.
ALTER TABLE link_state ADD COLUMN compared_until timestamptz;
