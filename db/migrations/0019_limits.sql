-- Up Migration

-- What came out of the zips of an intake counts against what its sender may hand in within a day.
ALTER TABLE intakes ADD COLUMN unpacked_bytes bigint NOT NULL DEFAULT 0 CHECK (unpacked_bytes >= 0);

-- Uploads that have begun: what they will bring counts before it has come.
CREATE TABLE announced_uploads (
  id text PRIMARY KEY,
  intake uuid NOT NULL REFERENCES intakes ON DELETE CASCADE,
  bytes bigint NOT NULL CHECK (bytes >= 0)
);
CREATE INDEX announced_uploads_intake ON announced_uploads (intake);

-- At least one keeper stays, whoever retires whom at the same moment: the studio's one row is the lock.
CREATE FUNCTION keep_a_keeper() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM 1 FROM studio FOR UPDATE;
  IF NOT EXISTS (SELECT 1 FROM people WHERE level = 'keep' AND retired_at IS NULL) THEN
    RAISE EXCEPTION 'the last keeper stays' USING ERRCODE = 'check_violation', CONSTRAINT = 'people_keeper_stays';
  END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER people_keeper_stays AFTER UPDATE OF level, retired_at OR DELETE ON people
  FOR EACH ROW WHEN (OLD.level = 'keep' AND OLD.retired_at IS NULL) EXECUTE FUNCTION keep_a_keeper();

-- Pictures whose pixels could be read, but are damaged in places.
ALTER TABLE images ADD COLUMN damaged boolean NOT NULL DEFAULT false;
