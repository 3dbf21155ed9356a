-- Up Migration

-- A collection can be moved into another, but never into itself or into one that is inside it.
-- The lock holds two moves apart that would make a ring only together.
CREATE FUNCTION refuse_ring_of_collections() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_advisory_xact_lock(hashtext('ring of collections'));
  IF EXISTS (
    WITH RECURSIVE around AS (
      SELECT id, parent FROM collections WHERE id = NEW.parent
      UNION SELECT c.id, c.parent FROM collections c JOIN around ON c.id = around.parent)
    SELECT FROM around WHERE id = NEW.id)
  THEN
    RAISE EXCEPTION 'a collection cannot be inside itself'
      USING ERRCODE = 'check_violation', CONSTRAINT = 'collections_no_ring';
  END IF;
  RETURN NEW;
END $$;

CREATE TRIGGER collections_no_ring BEFORE UPDATE OF parent ON collections
  FOR EACH ROW WHEN (NEW.parent IS NOT NULL) EXECUTE FUNCTION refuse_ring_of_collections();
