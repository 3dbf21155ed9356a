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

-- Wrong attempts to sign in, for the keeper to see.
CREATE TABLE wrong_passwords (
  account text NOT NULL CHECK (length(account) <= 320),
  address text NOT NULL,
  hour timestamptz NOT NULL,
  times integer NOT NULL DEFAULT 1,
  last_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (account, address, hour)
);
CREATE INDEX wrong_passwords_hour ON wrong_passwords (hour);

-- A delivery that could not be written to its destination has its files all the same.
ALTER TABLE deliveries DROP CONSTRAINT deliveries_check;
ALTER TABLE deliveries ADD CONSTRAINT deliveries_account CHECK (
  CASE state WHEN 'done' THEN account IS NOT NULL WHEN 'failed' THEN true ELSE account IS NULL END
);

-- Names that some systems keep for devices, or lose the end of. Older rows stay as they are.
ALTER TABLE destinations ADD CONSTRAINT destinations_portable CHECK (
  folder !~* '^(con|prn|aux|nul|com[0-9]|lpt[0-9])$' AND folder !~ '[ .]$'
) NOT VALID;

-- How long jobs took, for whoever watches; what is older than a day goes.
CREATE TABLE job_times (
  kind text NOT NULL,
  ended_at timestamptz NOT NULL DEFAULT now(),
  seconds double precision NOT NULL,
  failed boolean NOT NULL
);
CREATE INDEX job_times_ended ON job_times (ended_at);

-- What a worker's pool of processes is doing.
ALTER TABLE workers
  ADD COLUMN pool_busy integer NOT NULL DEFAULT 0,
  ADD COLUMN pool_waiting integer NOT NULL DEFAULT 0;

-- Whoever writes to an upload, among all web processes.
CREATE TABLE upload_locks (
  id text PRIMARY KEY,
  owner uuid NOT NULL,
  seen_at timestamptz NOT NULL DEFAULT now(),
  wanted boolean NOT NULL DEFAULT false
);

-- When something last came for an intake that was begun.
ALTER TABLE intakes ADD COLUMN touched_at timestamptz NOT NULL DEFAULT now();
