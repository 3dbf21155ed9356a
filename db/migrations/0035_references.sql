-- Pictures that a finish is judged against: the supplier's reference, or what a renderer made of the material.
CREATE TABLE reference_pictures (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  material uuid NOT NULL REFERENCES materials ON DELETE CASCADE,
  sha256 text NOT NULL REFERENCES files,
  name text NOT NULL CHECK (name <> '' AND length(name) <= 200),
  -- The id of the profile whose renderer made it, where one did.
  profile text,
  -- What tells its real size, and which spot of it is grey.
  placed_by jsonb CHECK (jsonb_typeof(placed_by) = 'object'),
  neutral jsonb CHECK (jsonb_typeof(neutral) = 'object'),
  bytes bigint NOT NULL DEFAULT 0,
  -- Read by the worker before it is shown: what is no picture is not kept.
  state text NOT NULL DEFAULT 'reading' CHECK (state IN ('reading', 'there', 'failed')),
  failure text CHECK ((failure IS NULL) = (state <> 'failed')),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (material, sha256)
);
CREATE INDEX reference_pictures_day ON reference_pictures (made_by, made_at);

-- A supplier's picture that came in with a material is one of them from the beginning.
CREATE FUNCTION note_reference() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO reference_pictures (material, sha256, name, state, made_by)
    SELECT NEW.material, NEW.sha256, left(NEW.file_name, 200), 'there', r.made_by
      FROM revisions r WHERE r.material = NEW.material AND r.number = NEW.revision AND NEW.file_name <> ''
       -- One that somebody removed does not come back with the next revision.
       AND NOT EXISTS (SELECT 1 FROM maps a
             WHERE a.material = NEW.material AND a.sha256 = NEW.sha256 AND a.revision < NEW.revision)
    ON CONFLICT DO NOTHING;
  RETURN NULL;
END $$;
CREATE TRIGGER maps_reference AFTER INSERT ON maps FOR EACH ROW WHEN (NEW.role = 'reference' AND NEW.channel = 'color')
  EXECUTE FUNCTION note_reference();
INSERT INTO reference_pictures (material, sha256, name, state, made_by)
  SELECT DISTINCT ON (a.material, a.sha256) a.material, a.sha256, left(a.file_name, 200), 'there', r.made_by
    FROM maps a JOIN revisions r ON r.material = a.material AND r.number = a.revision
   WHERE a.role = 'reference' AND a.channel = 'color' AND a.file_name <> ''
   ORDER BY a.material, a.sha256, a.revision
  ON CONFLICT DO NOTHING;
