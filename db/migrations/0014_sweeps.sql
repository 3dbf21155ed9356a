-- Up Migration

-- Looking for files on the disk that nothing refers to: first what would go, and only then it goes.
CREATE TABLE sweeps (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  person uuid REFERENCES people,
  asked_at timestamptz NOT NULL DEFAULT now(),
  -- [{path, bytes, why}], paths inside the data folder; null until somebody has looked.
  found jsonb,
  -- When a keeper said that it should go.
  agreed_at timestamptz,
  -- {files, bytes}
  removed jsonb,
  failure text,
  CHECK (agreed_at IS NULL OR found IS NOT NULL),
  CHECK (removed IS NULL OR agreed_at IS NOT NULL)
);
