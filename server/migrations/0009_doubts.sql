-- What an examination found in the data themselves. Numbers and sentences alone: what they are about may change its name.
CREATE TABLE doubt (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  job_id integer NOT NULL,
  kind text NOT NULL,
  tag_id integer,
  source_id integer,
  since bigint NOT NULL,
  until bigint NOT NULL,
  sentence text NOT NULL,
  evidence jsonb NOT NULL
);
--> statement-breakpoint
CREATE INDEX doubt_of_job ON doubt (job_id, id);
