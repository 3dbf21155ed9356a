-- A destination is looked through, file by file. Of each, the last time is kept.
CREATE TABLE destination_checks (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  destination uuid NOT NULL UNIQUE REFERENCES destinations ON DELETE CASCADE,
  person uuid NOT NULL REFERENCES people,
  -- Whether what is missing or was changed is written again.
  mends boolean NOT NULL,
  state text NOT NULL DEFAULT 'looking' CHECK (state IN ('looking', 'done', 'failed')),
  failure text CHECK ((failure IS NULL) = (state <> 'failed')),
  -- Of ours, how many there are and were looked at; of others', how many lie there.
  files integer NOT NULL DEFAULT 0,
  looked_at integer NOT NULL DEFAULT 0,
  foreign_files integer NOT NULL DEFAULT 0,
  asked_at timestamptz NOT NULL DEFAULT now(),
  ended_at timestamptz
);

-- What was not as it should be: all of ours, and the first of the others'.
CREATE TABLE destination_findings (
  check_run uuid NOT NULL REFERENCES destination_checks ON DELETE CASCADE,
  path text NOT NULL,
  state text NOT NULL CHECK (state IN ('missing', 'changed', 'foreign')),
  is_written boolean NOT NULL DEFAULT false,
  PRIMARY KEY (check_run, path)
);
