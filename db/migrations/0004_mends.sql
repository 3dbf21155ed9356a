-- Up Migration

-- What was mended of a material, and how: the recipe of derived maps. The revision before it keeps the maps as they came.
CREATE TABLE mends (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  material uuid NOT NULL,
  from_revision integer NOT NULL,
  to_revision integer,
  recipe jsonb NOT NULL,
  -- Figures before and after, once it is done.
  figures jsonb,
  failure text,
  person uuid NOT NULL REFERENCES people,
  asked_at timestamptz NOT NULL DEFAULT now(),
  ended_at timestamptz,
  FOREIGN KEY (material, from_revision) REFERENCES revisions (material, number) ON DELETE CASCADE,
  FOREIGN KEY (material, to_revision) REFERENCES revisions (material, number) ON DELETE CASCADE,
  CHECK ((ended_at IS NULL) = (to_revision IS NULL AND failure IS NULL))
);
CREATE INDEX mends_material ON mends (material, asked_at DESC);
-- One at a time for a material.
CREATE UNIQUE INDEX mends_running ON mends (material) WHERE ended_at IS NULL;
