-- Up Migration

ALTER TABLE intakes
  -- What is to be fetched from a supplier, and by which name: the order, as it was asked for.
  ADD COLUMN ordered jsonb;

-- What a supplier's product sheet said of it: the line's facts, the product and its variant.
ALTER TABLE candidates ADD COLUMN sheet jsonb;
ALTER TABLE sources ADD COLUMN sheet jsonb;
CREATE INDEX sources_product_code ON sources (supplier, product_code) WHERE product_code IS NOT NULL;
