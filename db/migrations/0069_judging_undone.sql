-- Up Migration
-- What judging again said otherwise can be put back as it was, for as long as other acts on many.
ALTER TABLE remakes
  ADD COLUMN undone_at timestamptz;
ALTER TABLE remake_materials
  ADD COLUMN revision integer,
  ADD COLUMN before jsonb,
  ADD COLUMN after jsonb,
  ADD CONSTRAINT remake_materials_otherwise
    CHECK ((before IS NULL) = (after IS NULL) AND (before IS NULL OR revision IS NOT NULL));
