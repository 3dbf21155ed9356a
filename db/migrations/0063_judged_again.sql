-- Up Migration

-- A map may be one of the first three channels of its file as well.
ALTER TABLE remake_items
  DROP CONSTRAINT remake_items_channel_check,
  ADD CONSTRAINT remake_items_channel_check CHECK (channel IN ('color', 'red', 'green', 'blue', 'alpha'));

-- A run may read the files anew as well, and judge the materials by what is read.
ALTER TABLE remakes ADD COLUMN judges boolean NOT NULL DEFAULT false;
CREATE TABLE remake_materials (
  remake uuid NOT NULL REFERENCES remakes ON DELETE CASCADE,
  material uuid NOT NULL REFERENCES materials ON DELETE CASCADE,
  is_judged boolean NOT NULL DEFAULT false,
  -- What is said of it that was not said before, and what is not said any more.
  came jsonb NOT NULL DEFAULT '[]',
  went jsonb NOT NULL DEFAULT '[]',
  PRIMARY KEY (remake, material)
);
CREATE INDEX remake_materials_waiting ON remake_materials (remake, material) WHERE NOT is_judged;
