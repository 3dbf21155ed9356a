-- Up Migration

-- What the pixels of an image say; null for what was taken in before they were read.
ALTER TABLE images
  DROP CONSTRAINT images_bit_depth_check,
  ADD CONSTRAINT images_bit_depth_check CHECK (bit_depth IN (8, 16, 32)),
  ADD COLUMN pages integer NOT NULL DEFAULT 1 CHECK (pages > 0),
  ADD COLUMN float_range jsonb,
  ADD COLUMN reading jsonb,
  ADD COLUMN repetition jsonb,
  -- Whether its previews were averaged in linear light, as colours are.
  ADD COLUMN shown_as text CHECK (shown_as IN ('color', 'data'));

-- Twelve numbers of twelve bits an image; two images that share one of them at its place may be one picture.
CREATE TABLE fingerprints (
  band smallint NOT NULL CHECK (band BETWEEN 0 AND 11),
  value smallint NOT NULL CHECK (value BETWEEN 0 AND 4095),
  sha256 text NOT NULL REFERENCES images,
  PRIMARY KEY (band, value, sha256)
);
CREATE INDEX fingerprints_image ON fingerprints (sha256);

-- Pairs of pictures that were compared, and what somebody decided once.
CREATE TABLE likenesses (
  first text NOT NULL REFERENCES images,
  second text NOT NULL REFERENCES images,
  alike real NOT NULL CHECK (alike BETWEEN -1.001 AND 1.001),
  turns smallint NOT NULL CHECK (turns BETWEEN 0 AND 3),
  shift_x real NOT NULL,
  shift_y real NOT NULL,
  tint real[] NOT NULL CHECK (cardinality(tint) = 3),
  decision text CHECK (decision IN ('same', 'variant', 'different')),
  decided_by uuid REFERENCES people,
  decided_at timestamptz,
  PRIMARY KEY (first, second),
  CHECK (first < second),
  CHECK ((decision IS NULL) = (decided_at IS NULL))
);
CREATE INDEX likenesses_second ON likenesses (second);

ALTER TABLE maps
  DROP CONSTRAINT maps_channel_check,
  ADD CONSTRAINT maps_channel_check CHECK (channel IN ('color', 'red', 'green', 'blue', 'alpha')),
  DROP CONSTRAINT maps_role_check,
  ADD CONSTRAINT maps_role_check CHECK (role IN (
    'base_color', 'specular_roughness', 'gloss', 'base_metalness', 'geometry_normal', 'height', 'bump',
    'ambient_occlusion', 'geometry_opacity', 'subsurface_color', 'transmission_weight', 'emission_color',
    'specular_weight', 'specular_color', 'coat_weight', 'reference', 'wear_mask', 'environment'));

ALTER TABLE candidate_maps
  DROP CONSTRAINT candidate_maps_channel_check,
  ADD CONSTRAINT candidate_maps_channel_check CHECK (channel IN ('color', 'red', 'green', 'blue', 'alpha'));

ALTER TABLE candidates
  ADD COLUMN layout text NOT NULL DEFAULT 'repeating' CHECK (layout IN ('repeating', 'placed', 'cut-outs', 'plain')),
  ADD COLUMN folder text NOT NULL DEFAULT '',
  -- The archive that it came in; '' for loose files.
  ADD COLUMN scope text NOT NULL DEFAULT '',
  -- What a licence text that came with it says, until somebody confirms it.
  ADD COLUMN licence jsonb,
  -- What happens on a clash, where it differs from the rest of the intake.
  ADD COLUMN on_clash text CHECK (on_clash IN ('skip', 'replace', 'keep-both'));

ALTER TABLE intake_ignored
  ADD COLUMN kind text NOT NULL DEFAULT 'left-aside'
    CHECK (kind IN ('passed-over', 'left-aside', 'set-aside', 'text', 'model'));

ALTER TABLE intakes
  -- How close the camera comes, which sets how strict a finding is.
  ADD COLUMN purpose text NOT NULL DEFAULT 'near' CHECK (purpose IN ('near', 'far', 'backdrop')),
  -- Somebody asked the reading to wait, or to stop with what it has.
  ADD COLUMN hold text CHECK (hold IN ('pause', 'stop')),
  -- Limits for one file; a file over them is set aside.
  ADD COLUMN item_seconds integer NOT NULL DEFAULT 120 CHECK (item_seconds BETWEEN 1 AND 3600),
  ADD COLUMN item_mib integer NOT NULL DEFAULT 4096 CHECK (item_mib BETWEEN 16 AND 65536),
  -- Sets with fewer maps, or fewer pixels on their longer side, are left out.
  ADD COLUMN least_maps integer NOT NULL DEFAULT 1 CHECK (least_maps BETWEEN 1 AND 9),
  ADD COLUMN least_pixels integer NOT NULL DEFAULT 1 CHECK (least_pixels BETWEEN 1 AND 16384),
  ADD COLUMN progress_since timestamptz,
  -- Where the files were found, when nobody sent them: a path in the drop folder.
  ADD COLUMN found_at text UNIQUE;
