-- What a picture of the delivered files says: one for each material and profile of a delivery.
CREATE TABLE delivery_proofs (
  delivery uuid NOT NULL REFERENCES deliveries ON DELETE CASCADE,
  material uuid NOT NULL REFERENCES materials,
  profile text NOT NULL REFERENCES profiles,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'done', 'failed')),
  proof jsonb CHECK (jsonb_typeof(proof) = 'object'),
  -- Its pictures: a row for each light and shape, in it the material, the delivery, and their difference.
  sheet text REFERENCES files,
  failure text,
  PRIMARY KEY (delivery, material, profile),
  CHECK ((state = 'done') = (proof IS NOT NULL AND sheet IS NOT NULL)),
  CHECK ((state = 'failed') = (failure IS NOT NULL))
);
CREATE INDEX delivery_proofs_material ON delivery_proofs (material);
