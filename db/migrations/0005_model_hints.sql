-- Up Migration

-- What a model or a material file said beside its maps: values, and a repeat that its geometry tells.
ALTER TABLE candidates ADD COLUMN hint jsonb;
