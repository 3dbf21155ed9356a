-- Cards by whose picture a renderer's conventions are told.
CREATE TABLE test_cards (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  -- Printed on it, so that a picture is read for the card that it shows.
  number integer NOT NULL UNIQUE CHECK (number BETWEEN 1 AND 4095),
  -- What the renderer is called.
  name text NOT NULL CHECK (name <> '' AND length(name) <= 80),
  -- The zip of its images; none until the worker has painted them.
  files text REFERENCES files,
  state text NOT NULL DEFAULT 'making' CHECK (state IN ('making', 'waiting', 'reading', 'read', 'failed')),
  failure text CHECK ((failure IS NULL) = (state <> 'failed')),
  -- What the renderer made of it, the same from straight ahead, and what it says.
  picture text REFERENCES files,
  picture_by uuid REFERENCES people,
  picture_at timestamptz,
  -- Of all pictures that came for it within a day.
  picture_bytes bigint NOT NULL DEFAULT 0,
  flat text REFERENCES files,
  reading jsonb CHECK (jsonb_typeof(reading) = 'object'),
  CHECK (state <> 'read' OR (reading IS NOT NULL AND flat IS NOT NULL AND picture IS NOT NULL)),
  -- The one that was made by it.
  profile text REFERENCES profiles,
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX test_cards_day ON test_cards (picture_by, picture_at);
