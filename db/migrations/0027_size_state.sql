-- Whether the size of a material's newest revision is known, beside the material: the library is filtered by it.
ALTER TABLE materials ADD COLUMN size_state text NOT NULL DEFAULT 'unknown' CHECK (size_state IN ('known', 'assumed', 'unknown'));
UPDATE materials SET size_state = r.size_state FROM revisions r WHERE r.material = materials.id AND r.number = materials.revision;

CREATE FUNCTION note_size_state() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE materials SET size_state = NEW.size_state WHERE id = NEW.material AND revision = NEW.number;
  RETURN NULL;
END $$;
CREATE TRIGGER revisions_size_state AFTER INSERT OR UPDATE OF size_state ON revisions
  FOR EACH ROW EXECUTE FUNCTION note_size_state();

CREATE INDEX materials_unsized ON materials (lower(name), id)
  WHERE deleted_at IS NULL AND size_state = 'unknown' AND layout <> 'plain';
DROP INDEX revisions_unsized;

-- Only what was saved again can be newer than what a project took.
CREATE INDEX materials_saved_again ON materials (id) WHERE revision > 1;
