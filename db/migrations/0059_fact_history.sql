-- Up Migration

-- What was changed in the facts of materials and in licences: who, when, what there was and what came, by fields that changed alone.
CREATE TABLE fact_changes (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  material uuid REFERENCES materials ON DELETE CASCADE,
  licence uuid REFERENCES licences ON DELETE CASCADE,
  -- Null where the program did it by itself.
  made_by uuid REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  before jsonb NOT NULL CHECK (jsonb_typeof(before) = 'object'),
  after jsonb NOT NULL CHECK (jsonb_typeof(after) = 'object'),
  CHECK ((material IS NULL) <> (licence IS NULL))
);
CREATE INDEX fact_changes_material ON fact_changes (material, id) WHERE material IS NOT NULL;
CREATE INDEX fact_changes_licence ON fact_changes (licence, id) WHERE licence IS NOT NULL;

-- The fields of one that the other has otherwise.
CREATE FUNCTION otherwise(one jsonb, other jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
  SELECT COALESCE(jsonb_object_agg(key, value), '{}') FROM jsonb_each(one) WHERE value IS DISTINCT FROM other->key
$$;

CREATE FUNCTION note_fact_change(of_material uuid, of_licence uuid, before jsonb, after jsonb) RETURNS void LANGUAGE sql AS $$
  INSERT INTO fact_changes (material, licence, made_by, before, after)
  SELECT of_material, of_licence, NULLIF(current_setting('kalonomy.person', true), '')::uuid, otherwise(before, after), otherwise(after, before)
   WHERE before IS DISTINCT FROM after
$$;

CREATE FUNCTION facts_of_source(s sources) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
  SELECT jsonb_build_object('supplier', s.supplier, 'product', s.product, 'productCode', s.product_code, 'page', s.page, 'licence', s.licence)
$$;

CREATE FUNCTION note_source_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM note_fact_change(m.id, NULL, facts_of_source(OLD), facts_of_source(NEW)) FROM materials m
    -- What a material is made with is no change of it.
   WHERE m.source = NEW.id AND m.created_at <> now();
  RETURN NULL;
END $$;
CREATE TRIGGER sources_history AFTER UPDATE ON sources FOR EACH ROW
  WHEN ((OLD.supplier, OLD.product, OLD.product_code, OLD.page, OLD.licence) IS DISTINCT FROM (NEW.supplier, NEW.product, NEW.product_code, NEW.page, NEW.licence))
  EXECUTE FUNCTION note_source_change();

-- What the program proposes of a family is nobody's change; nor is what a material is made with.
CREATE FUNCTION facts_of_material(m materials, with_family boolean) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
  SELECT jsonb_build_object('name', m.name, 'line', m.line, 'variant', m.variant, 'tags', to_jsonb(m.tags),
    'family', CASE WHEN with_family THEN m.family END)
$$;

CREATE FUNCTION note_material_change() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  said boolean := NEW.family_from = 'person' OR OLD.family_from = 'person';
BEGIN
  PERFORM note_fact_change(NEW.id, NULL, facts_of_material(OLD, said), facts_of_material(NEW, said));
  RETURN NULL;
END $$;
CREATE TRIGGER materials_history AFTER UPDATE ON materials FOR EACH ROW
  WHEN (NEW.created_at <> now() AND (OLD.name, OLD.line, OLD.variant, OLD.tags, OLD.family) IS DISTINCT FROM (NEW.name, NEW.line, NEW.variant, NEW.tags, NEW.family))
  EXECUTE FUNCTION note_material_change();

CREATE FUNCTION terms_of_licence(l licences) RETURNS jsonb LANGUAGE sql STABLE AS $$
  SELECT jsonb_build_object('name', l.name, 'price', l.price, 'project', l.project, 'endsOn', l.ends_on, 'credit', l.credit)
$$;

CREATE FUNCTION note_licence_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM note_fact_change(NULL, NEW.id, terms_of_licence(OLD), terms_of_licence(NEW));
  RETURN NULL;
END $$;
CREATE TRIGGER licences_history AFTER UPDATE ON licences FOR EACH ROW EXECUTE FUNCTION note_licence_change();
