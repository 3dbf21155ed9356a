-- When the facts of a product changed that a material file may carry.
-- Of what is there already, nobody knows: it counts as unchanged.
ALTER TABLE sources ADD COLUMN changed_at timestamptz NOT NULL DEFAULT '-infinity';
ALTER TABLE sources ALTER COLUMN changed_at SET DEFAULT now();

CREATE FUNCTION note_changed_facts() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF (NEW.supplier, NEW.product, NEW.product_code, NEW.page, NEW.sheet)
    IS DISTINCT FROM (OLD.supplier, OLD.product, OLD.product_code, OLD.page, OLD.sheet) THEN
    NEW.changed_at := now();
  END IF;
  RETURN NEW;
END $$;

CREATE TRIGGER sources_changed BEFORE UPDATE ON sources FOR EACH ROW EXECUTE FUNCTION note_changed_facts();
