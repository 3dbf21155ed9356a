-- Up Migration

-- Looking for originals that are gone from the store; of each look, what it found.
CREATE TABLE original_looks (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  looked_at integer NOT NULL DEFAULT 0,
  total integer NOT NULL DEFAULT 0,
  done_at timestamptz,
  failure text
);
CREATE TABLE missing_originals (
  sha256 text PRIMARY KEY REFERENCES files ON DELETE CASCADE,
  found_at timestamptz NOT NULL DEFAULT now()
);
