-- Up Migration

-- What kind of thing a material is, and by what that was said; "nothing" where nobody could say it yet, and null where nobody was asked.
ALTER TABLE materials
  ADD COLUMN family text CHECK (family IN ('brick', 'stone', 'timber', 'plaster', 'tile', 'metal', 'fabric', 'paint', 'ground')),
  ADD COLUMN family_from text CHECK (family_from IN ('sheet', 'name', 'folder', 'person', 'nothing')),
  ADD CONSTRAINT materials_family_from CHECK (family IS NULL OR (family_from IS NOT NULL AND family_from <> 'nothing'));
CREATE INDEX materials_family ON materials (family) WHERE deleted_at IS NULL;
CREATE INDEX materials_family_unasked ON materials (id) WHERE family_from IS NULL;

-- A studio's own words on a material, each once.
ALTER TABLE materials
  ADD COLUMN tags text[] NOT NULL DEFAULT '{}' CHECK (cardinality(tags) <= 30 AND array_position(tags, NULL) IS NULL);
CREATE INDEX materials_tags ON materials USING gin (tags);
CREATE INDEX materials_tagged ON materials (id) WHERE tags <> '{}';
-- (What it is said of does not change with any setting, unlike what array_to_string is declared as.)
CREATE FUNCTION joined(text[]) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE STRICT AS $$ SELECT array_to_string($1, ' ') $$;

-- What is searched, with the tags.
ALTER TABLE materials DROP COLUMN words;
ALTER TABLE materials
  ADD COLUMN words text NOT NULL GENERATED ALWAYS AS (fold(name || ' ' || code || ' ' || joined(tags))) STORED;
CREATE INDEX materials_words ON materials USING gin (words gin_trgm_ops);
DROP TRIGGER materials_words ON materials;
CREATE TRIGGER materials_words AFTER INSERT OR UPDATE OF name, code, tags ON materials FOR EACH ROW
  EXECUTE FUNCTION note_library_words();

-- The repeat and the module of the current revision, beside the material, as its size state is.
ALTER TABLE materials
  ADD COLUMN repeat_width_mm real, ADD COLUMN repeat_height_mm real,
  ADD COLUMN module_width_mm real, ADD COLUMN module_height_mm real;
CREATE FUNCTION module_mm(gauge jsonb, side text) RETURNS real LANGUAGE sql IMMUTABLE PARALLEL SAFE AS
  $$ SELECT COALESCE(gauge->'workSize'->>side, gauge->'coverSize'->>side)::real $$;
UPDATE materials m SET repeat_width_mm = r.repeat_width_mm, repeat_height_mm = r.repeat_height_mm,
    module_width_mm = module_mm(r.gauge, 'width'), module_height_mm = module_mm(r.gauge, 'height')
  FROM revisions r WHERE r.material = m.id AND r.number = m.revision;
CREATE OR REPLACE FUNCTION note_size_state() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE materials SET size_state = NEW.size_state, repeat_width_mm = NEW.repeat_width_mm, repeat_height_mm = NEW.repeat_height_mm,
      module_width_mm = module_mm(NEW.gauge, 'width'), module_height_mm = module_mm(NEW.gauge, 'height')
    WHERE id = NEW.material AND revision = NEW.number;
  RETURN NULL;
END $$;
DROP TRIGGER revisions_size_state ON revisions;
CREATE TRIGGER revisions_size_state AFTER INSERT OR UPDATE OF size_state, repeat_width_mm, repeat_height_mm, gauge ON revisions
  FOR EACH ROW EXECUTE FUNCTION note_size_state();

-- The colours that the current revision is of, after its finish, in CIE L*a*b* under D65, each with its share of the area.
ALTER TABLE revisions ADD COLUMN colors jsonb CHECK (jsonb_typeof(colors) = 'array');
CREATE TABLE material_colors (
  material uuid NOT NULL REFERENCES materials ON DELETE CASCADE,
  lab cube NOT NULL CHECK (cube_dim(lab) = 3 AND cube_is_point(lab)),
  share real NOT NULL CHECK (share > 0 AND share <= 1)
);
CREATE INDEX material_colors_material ON material_colors (material);
CREATE INDEX material_colors_near ON material_colors USING gist (lab);
CREATE OR REPLACE FUNCTION note_light_reflectance() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE materials SET light_reflectance = NEW.light_reflectance, color_terms = NEW.color_terms, color_order = NEW.color_order
    WHERE id = NEW.material AND revision = NEW.number;
  IF FOUND THEN
    DELETE FROM material_colors WHERE material = NEW.material;
    INSERT INTO material_colors
      SELECT NEW.material, cube(ARRAY[(color->>0)::float8, (color->>1)::float8, (color->>2)::float8]), (color->>3)::real
        FROM jsonb_array_elements(NEW.colors) AS color;
  END IF;
  RETURN NULL;
END $$;
DROP TRIGGER revisions_light ON revisions;
CREATE TRIGGER revisions_light AFTER INSERT OR UPDATE OF light_reflectance, color_terms, colors ON revisions FOR EACH ROW
  EXECUTE FUNCTION note_light_reflectance();
-- The worker reads them again for what is there.
ALTER TABLE revisions DISABLE TRIGGER revisions_light;
UPDATE revisions SET color_terms = NULL FROM materials m WHERE m.id = material AND m.revision = number AND m.color_terms IS NOT NULL;
ALTER TABLE revisions ENABLE TRIGGER revisions_light;
UPDATE materials SET color_terms = NULL WHERE color_terms IS NOT NULL;

-- CIEDE2000 of two colours in L*a*b*, with all weights 1 (ISO/CIE 11664-6).
CREATE FUNCTION ciede2000(one cube, other cube) RETURNS float8 LANGUAGE plpgsql IMMUTABLE PARALLEL SAFE AS $$
DECLARE
  l1 float8 := cube_ll_coord(one, 1); a1 float8 := cube_ll_coord(one, 2); b1 float8 := cube_ll_coord(one, 3);
  l2 float8 := cube_ll_coord(other, 1); a2 float8 := cube_ll_coord(other, 2); b2 float8 := cube_ll_coord(other, 3);
  c7 float8 := ((sqrt(a1*a1 + b1*b1) + sqrt(a2*a2 + b2*b2)) / 2) ^ 7;
  g float8 := 0.5 * (1 - sqrt(c7 / (c7 + 6103515625)));
  p1 float8 := (1 + g) * a1; p2 float8 := (1 + g) * a2;
  c1 float8 := sqrt(p1*p1 + b1*b1); c2 float8 := sqrt(p2*p2 + b2*b2);
  h1 float8 := CASE WHEN c1 = 0 THEN 0 ELSE degrees(atan2(b1, p1)) END;
  h2 float8 := CASE WHEN c2 = 0 THEN 0 ELSE degrees(atan2(b2, p2)) END;
  dh float8; h float8; l float8; c float8; t float8; sl float8; sc float8; sh float8; dth float8; rt float8; bigh float8;
BEGIN
  IF h1 < 0 THEN h1 := h1 + 360; END IF;
  IF h2 < 0 THEN h2 := h2 + 360; END IF;
  IF c1 * c2 = 0 THEN dh := 0; h := h1 + h2;
  ELSE
    dh := h2 - h1;
    IF dh > 180 THEN dh := dh - 360; ELSIF dh < -180 THEN dh := dh + 360; END IF;
    h := (h1 + h2) / 2;
    IF abs(h1 - h2) > 180 THEN h := h + CASE WHEN h1 + h2 < 360 THEN 180 ELSE -180 END; END IF;
  END IF;
  l := (l1 + l2) / 2; c := (c1 + c2) / 2;
  t := 1 - 0.17 * cosd(h - 30) + 0.24 * cosd(2 * h) + 0.32 * cosd(3 * h + 6) - 0.2 * cosd(4 * h - 63);
  sl := 1 + 0.015 * (l - 50)^2 / sqrt(20 + (l - 50)^2);
  sc := 1 + 0.045 * c; sh := 1 + 0.015 * c * t;
  dth := 30 * exp(0 - ((h - 275) / 25)^2);
  rt := -2 * sqrt(c^7 / (c^7 + 6103515625)) * sind(2 * dth);
  bigh := 2 * sqrt(c1 * c2) * sind(dh / 2);
  RETURN sqrt(greatest(0, ((l2 - l1) / sl)^2 + ((c2 - c1) / sc)^2 + (bigh / sh)^2 + rt * ((c2 - c1) / sc) * (bigh / sh)));
END $$;

-- A search that was kept for the studio: what the sentence over the library says, by its words.
CREATE TABLE searches (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL CHECK (name <> '' AND length(name) <= 200),
  filter jsonb NOT NULL CHECK (jsonb_typeof(filter) = 'object'),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX searches_name ON searches (lower(name));
