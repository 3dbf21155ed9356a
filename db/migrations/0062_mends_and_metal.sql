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
