-- Which wear layers a revision refers to, in the order in which its finish lays them on, and in which revision of theirs.
CREATE TABLE worn_layers (
  material uuid NOT NULL,
  revision integer NOT NULL,
  position integer NOT NULL CHECK (position BETWEEN 0 AND 9),
  layer uuid NOT NULL CHECK (layer <> material),
  layer_revision integer NOT NULL,
  PRIMARY KEY (material, revision, position),
  FOREIGN KEY (material, revision) REFERENCES revisions (material, number) ON DELETE CASCADE,
  FOREIGN KEY (layer, layer_revision) REFERENCES revisions (material, number)
);
CREATE INDEX worn_layers_layer ON worn_layers (layer);

-- An environment lights views: it is no sample on the wall, and has no size to be found.
DROP INDEX materials_in_order;
CREATE INDEX materials_in_order ON materials (lower(name), id) WHERE deleted_at IS NULL AND kind <> 'environment';
DROP INDEX materials_unsized;
CREATE INDEX materials_unsized ON materials (lower(name), id)
  WHERE deleted_at IS NULL AND size_state = 'unknown' AND layout <> 'plain' AND kind <> 'environment';
CREATE INDEX materials_aside ON materials (kind, lower(name), id) WHERE deleted_at IS NULL AND kind <> 'material';
