-- Edits of a draft that were taken back and may be made again: what is found then is what they made.
ALTER TABLE draft_step ADD COLUMN undone boolean NOT NULL DEFAULT false;
