-- The site at which an annotation was written, by its identity; null: here, or not known of one that came before.
ALTER TABLE annotation ADD COLUMN origin_site text;
--> statement-breakpoint
-- They are told once more, with where they come from.
DELETE FROM arriving_paper WHERE kind = 'annotations';
