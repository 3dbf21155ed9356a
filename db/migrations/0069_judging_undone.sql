-- Up Migration
-- A run can be stopped, and what judging said otherwise be put back as it was, for as long as other acts on many.
ALTER TABLE remakes
  ADD COLUMN stopped_by uuid REFERENCES people,
  ADD COLUMN undone_at timestamptz,
  ADD CONSTRAINT remakes_stopped CHECK (stopped_by IS NULL OR done_at IS NOT NULL);
ALTER TABLE remake_materials
  ADD COLUMN revision integer,
  ADD COLUMN before jsonb,
  ADD COLUMN after jsonb,
  ADD CONSTRAINT remake_materials_otherwise
    CHECK ((before IS NULL) = (after IS NULL) AND (before IS NULL OR revision IS NOT NULL));
