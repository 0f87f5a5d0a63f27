-- What each month of a tag holds: how many samples, and the four lanes of their tally, kept by whoever posts. Months that
-- were written by something else are not counted yet; whoever posts does that when there is nothing else to do. `counted`
-- is apart from the lanes, so that no index is touched when these change.
ALTER TABLE ledger_month SET (fillfactor = 70);
--> statement-breakpoint
ALTER TABLE ledger_month
  ADD COLUMN counted boolean NOT NULL DEFAULT false,
  ADD COLUMN samples bigint NOT NULL DEFAULT 0,
  ADD COLUMN tally_1 bigint NOT NULL DEFAULT 0,
  ADD COLUMN tally_2 bigint NOT NULL DEFAULT 0,
  ADD COLUMN tally_3 bigint NOT NULL DEFAULT 0,
  ADD COLUMN tally_4 bigint NOT NULL DEFAULT 0;
--> statement-breakpoint
CREATE INDEX ledger_month_uncounted ON ledger_month (tag_id) WHERE NOT counted;
