-- Colours of a picture in 256 equal shares of its area: what is asked of a colour is answered from them. Those that are there already are read by the worker.
CREATE TABLE picture_colors (
  sha256 text PRIMARY KEY REFERENCES images,
  -- sRGB, three bytes a share, from the darkest to the lightest.
  colors bytea NOT NULL CHECK (length(colors) = 768)
);

-- Y × 100 of the mean colour under D65, after the finish; none where there is no colour, or nobody has read it yet.
ALTER TABLE revisions ADD COLUMN light_reflectance real CHECK (light_reflectance BETWEEN 0 AND 100);
ALTER TABLE materials ADD COLUMN light_reflectance real CHECK (light_reflectance BETWEEN 0 AND 100);
CREATE INDEX materials_light ON materials (light_reflectance) WHERE deleted_at IS NULL;

-- What is listed and searched is that of the current revision.
CREATE FUNCTION note_light_reflectance() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE materials SET light_reflectance = NEW.light_reflectance
    WHERE id = NEW.material AND revision = NEW.number AND light_reflectance IS DISTINCT FROM NEW.light_reflectance;
  RETURN NULL;
END $$;
CREATE TRIGGER revisions_light AFTER INSERT OR UPDATE OF light_reflectance ON revisions FOR EACH ROW
  EXECUTE FUNCTION note_light_reflectance();
