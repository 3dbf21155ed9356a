-- Pictures that a finish is judged against: the supplier's reference, or what a renderer made of the material.
CREATE TABLE reference_pictures (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  material uuid NOT NULL REFERENCES materials ON DELETE CASCADE,
  sha256 text NOT NULL REFERENCES files,
  name text NOT NULL CHECK (name <> '' AND length(name) <= 200),
  -- The id of the profile whose renderer made it, where one did.
  profile text,
  -- What tells its real size, and which spot of it is grey.
  placed_by jsonb CHECK (jsonb_typeof(placed_by) = 'object'),
  neutral jsonb CHECK (jsonb_typeof(neutral) = 'object'),
  bytes bigint NOT NULL DEFAULT 0,
  -- Read by the worker before it is shown: what is no picture is not kept.
  state text NOT NULL DEFAULT 'reading' CHECK (state IN ('reading', 'there', 'failed')),
  failure text CHECK ((failure IS NULL) = (state <> 'failed')),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (material, sha256)
);
CREATE INDEX reference_pictures_day ON reference_pictures (made_by, made_at);
