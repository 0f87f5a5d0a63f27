-- Writing to devices is a permission of its own, and a tag says whether it may be written to.
UPDATE account SET scopes = array_append(scopes, 'operate') WHERE 'admin' = ANY(scopes) AND NOT 'operate' = ANY(scopes);
--> statement-breakpoint
ALTER TABLE tag ADD COLUMN writable boolean NOT NULL DEFAULT false;
