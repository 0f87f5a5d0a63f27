-- A link carries every value of a tag ('') or a summary of it (aggregate and interval): each under a number of its own.
ALTER TABLE link_tag ADD COLUMN summary text NOT NULL DEFAULT '';
--> statement-breakpoint
ALTER TABLE link_tag DROP CONSTRAINT link_tag_link_id_tag_id_key;
--> statement-breakpoint
ALTER TABLE link_tag ADD UNIQUE (link_id, tag_id, summary);
--> statement-breakpoint
-- Intervals that were over by then have their summaries at the far end. Microseconds.
ALTER TABLE link_state ADD COLUMN summarised_until bigint;
--> statement-breakpoint
-- How the site at the other end is, as it said last.
ALTER TABLE arrival ADD COLUMN account jsonb;
