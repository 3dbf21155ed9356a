-- What a studio judges its materials under, beside the conditions that everybody has.
CREATE TABLE conditions (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL CHECK (name <> '' AND length(name) <= 80),
  light jsonb NOT NULL CHECK (jsonb_typeof(light) = 'object'),
  -- The panorama that lights it, where that is one of the library: its file is kept for as long.
  panorama text REFERENCES files,
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX conditions_name ON conditions (lower(name));
CREATE INDEX conditions_panorama ON conditions (panorama) WHERE panorama IS NOT NULL;

-- The studio's own surface grades, beside those that everybody has.
CREATE TABLE grades (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL CHECK (name <> '' AND length(name) <= 60),
  family text NOT NULL CHECK (family <> ''),
  grade jsonb NOT NULL CHECK (jsonb_typeof(grade) = 'object'),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX grades_name ON grades (lower(name));
