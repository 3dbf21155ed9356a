-- Up Migration

-- A region of a photograph, flattened into a material of its own. The photograph stays as it is.
CREATE TABLE flattenings (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  photo uuid NOT NULL,
  photo_revision integer NOT NULL,
  -- Corners, real size, quality and what is painted out; see core/photo/recipe.ts.
  recipe jsonb NOT NULL,
  -- How far it is, 0 to 1, while it is under way.
  share double precision NOT NULL DEFAULT 0 CHECK (share BETWEEN 0 AND 1),
  made uuid REFERENCES materials,
  figures jsonb,
  failure text,
  person uuid NOT NULL REFERENCES people,
  asked_at timestamptz NOT NULL DEFAULT now(),
  ended_at timestamptz,
  FOREIGN KEY (photo, photo_revision) REFERENCES revisions (material, number) ON DELETE CASCADE,
  CHECK ((ended_at IS NULL) = (made IS NULL AND failure IS NULL))
);
CREATE INDEX flattenings_photo ON flattenings (photo, asked_at DESC);
