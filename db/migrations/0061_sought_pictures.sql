-- Up Migration

-- Pictures that somebody looks for the like of. Searches name them, and may be kept, so they stay.
CREATE TABLE sought_pictures (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  sha256 text NOT NULL UNIQUE REFERENCES files,
  name text NOT NULL CHECK (name <> '' AND length(name) <= 200),
  bytes bigint NOT NULL,
  -- Read by the worker before anything is found by it.
  state text NOT NULL DEFAULT 'reading' CHECK (state IN ('reading', 'there', 'failed')),
  failure text CHECK ((failure IS NULL) = (state <> 'failed')),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX sought_pictures_day ON sought_pictures (made_by, made_at);
