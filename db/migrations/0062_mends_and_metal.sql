-- Up Migration

-- Mends that wait can be kept for many at once.
ALTER TABLE bulk_changes
  DROP CONSTRAINT bulk_changes_kind_check,
  ADD CONSTRAINT bulk_changes_kind_check
    CHECK (kind IN ('size', 'facts', 'name', 'grade', 'place', 'swap', 'mend', 'delete'));
CREATE INDEX mends_waiting ON mends (asked_at DESC) WHERE to_revision IS NULL AND failure IS NULL;

-- A metalness map says that something is metal.
ALTER TABLE materials
  DROP CONSTRAINT materials_family_from_check,
  ADD CONSTRAINT materials_family_from_check
    CHECK (family_from IN ('sheet', 'name', 'folder', 'maps', 'person', 'nothing'));
-- Of what neither name nor folder said, the maps are asked.
UPDATE materials SET family_from = NULL WHERE family_from = 'nothing';

-- Counted without a look at the materials themselves, and found by their modules.
CREATE INDEX materials_shown ON materials (kind) WHERE deleted_at IS NULL AND merged_into IS NULL;
CREATE INDEX materials_module ON materials (module_width_mm, module_height_mm)
  WHERE deleted_at IS NULL AND module_width_mm IS NOT NULL;
