-- Up Migration
-- What looks like a material is mostly of its family.
ALTER TABLE materials
  DROP CONSTRAINT materials_family_from_check,
  ADD CONSTRAINT materials_family_from_check
    CHECK (family_from IN ('sheet', 'name', 'folder', 'maps', 'look', 'person', 'nothing'));
-- Of what nothing else said, the pictures are asked.
UPDATE materials SET family_from = NULL WHERE family_from = 'nothing';
