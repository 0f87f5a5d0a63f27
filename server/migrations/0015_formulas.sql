-- What a tag is computed with; its inputs by the names that the formula gives them, where they are other tags.
ALTER TABLE tag ADD COLUMN formula text, ADD COLUMN inputs jsonb;
--> statement-breakpoint
-- How far the journal has been looked through for what derived tags are computed from. Null before the first look.
CREATE TABLE derivation (one boolean PRIMARY KEY DEFAULT true CHECK (one), entry bigint);
--> statement-breakpoint
INSERT INTO derivation DEFAULT VALUES;
--> statement-breakpoint
-- Since when the past of a derived tag has been computed, where that is before it came. Microseconds.
CREATE TABLE derived_past (tag_id integer PRIMARY KEY REFERENCES tag, since bigint NOT NULL);
