-- Up Migration

-- A file of an intake that somebody put with other files, or gave to a material: how it was before, so that it can be undone.
CREATE TABLE moves (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  intake uuid NOT NULL REFERENCES intakes ON DELETE CASCADE,
  said text NOT NULL,
  -- The candidates that it touched, as rows, and the ids of all that there are since.
  before jsonb NOT NULL CHECK (jsonb_typeof(before) = 'object'),
  touched uuid[] NOT NULL,
  -- How their files lay afterwards: what was changed since is not undone.
  left_as text NOT NULL,
  material uuid REFERENCES materials ON DELETE CASCADE,
  -- The revision that the material had, and the one that it got.
  revision_before int,
  revision_after int,
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  undone_at timestamptz,
  CHECK ((material IS NULL) = (revision_before IS NULL) AND (material IS NULL) = (revision_after IS NULL))
);
CREATE INDEX moves_intake ON moves (intake, made_at DESC) WHERE undone_at IS NULL;

-- What a file became on its own stands beside what it came out of.
ALTER TABLE candidates DROP CONSTRAINT candidates_intake_position_key;
CREATE INDEX candidates_place ON candidates (intake, position, id);
