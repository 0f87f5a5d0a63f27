-- What is noted of arriving links whoever writes down that they were heard of.

CREATE OR REPLACE FUNCTION note_silence() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  -- For so long a link is silent before that is said of it.
  IF NEW.contact_at > OLD.contact_at + interval '30 seconds' THEN
    INSERT INTO arrival_silence (arrival_id, since, until) VALUES (NEW.id, OLD.contact_at, NEW.contact_at) ON CONFLICT DO NOTHING;
  END IF;
  RETURN NEW;
END $$;

CREATE OR REPLACE TRIGGER heard_of BEFORE UPDATE OF contact_at ON arrival FOR EACH ROW EXECUTE FUNCTION note_silence();
