-- Up Migration

CREATE EXTENSION IF NOT EXISTS pg_trgm;

-- People and how they get in ------------------------------------------------------------------------------

CREATE TABLE people (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL CHECK (name <> ''),
  email text NOT NULL CHECK (email ~ '^[^@\s]+@[^@\s]+$'),
  password_hash text NOT NULL,
  level text NOT NULL CHECK (level IN ('look', 'make', 'keep')),
  -- The drawing scale that this person works at: 10 is 1:10.
  scale integer NOT NULL DEFAULT 10 CHECK (scale BETWEEN 1 AND 1000),
  unit text NOT NULL DEFAULT 'mm' CHECK (unit IN ('mm', 'cm', 'm', 'in')),
  created_at timestamptz NOT NULL DEFAULT now(),
  retired_at timestamptz
);
CREATE UNIQUE INDEX people_email ON people (lower(email));

CREATE TABLE sessions (
  id_hash text PRIMARY KEY,
  person uuid NOT NULL REFERENCES people ON DELETE CASCADE,
  created_at timestamptz NOT NULL DEFAULT now(),
  expires_at timestamptz NOT NULL
);
CREATE INDEX sessions_person ON sessions (person);

CREATE TABLE tokens (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  person uuid NOT NULL REFERENCES people ON DELETE CASCADE,
  name text NOT NULL CHECK (name <> ''),
  token_hash text NOT NULL UNIQUE,
  created_at timestamptz NOT NULL DEFAULT now(),
  used_at timestamptz,
  revoked_at timestamptz
);
CREATE INDEX tokens_person ON tokens (person);

-- Files, kept once by their hash ---------------------------------------------------------------------------

CREATE TABLE files (
  sha256 text PRIMARY KEY CHECK (sha256 ~ '^[0-9a-f]{64}$'),
  bytes bigint NOT NULL CHECK (bytes >= 0),
  media_type text NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE images (
  sha256 text PRIMARY KEY REFERENCES files,
  format text NOT NULL,
  width integer NOT NULL CHECK (width > 0),
  height integer NOT NULL CHECK (height > 0),
  channels smallint NOT NULL CHECK (channels BETWEEN 1 AND 4),
  bit_depth smallint NOT NULL CHECK (bit_depth IN (8, 16)),
  alpha text NOT NULL CHECK (alpha IN ('none', 'constant', 'cut-out', 'varied')),
  foreign_profile boolean NOT NULL
);

-- Where materials come from -------------------------------------------------------------------------------

CREATE TABLE suppliers (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL UNIQUE CHECK (name <> ''),
  page text
);

CREATE TABLE lines (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  supplier uuid NOT NULL REFERENCES suppliers,
  name text NOT NULL CHECK (name <> ''),
  UNIQUE (supplier, name)
);

CREATE TABLE projects (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL UNIQUE CHECK (name <> ''),
  number text UNIQUE CHECK (number <> ''),
  created_by uuid REFERENCES people,
  created_at timestamptz NOT NULL DEFAULT now()
);

CREATE TABLE licences (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL UNIQUE CHECK (name <> ''),
  price text NOT NULL CHECK (price IN ('free', 'bought', 'unknown')),
  -- Null: for every project.
  project uuid REFERENCES projects,
  ends_on date,
  credit text
);

CREATE TABLE intakes (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  person uuid NOT NULL REFERENCES people,
  state text NOT NULL DEFAULT 'receiving' CHECK (state IN ('receiving', 'reading', 'review', 'accepted', 'failed')),
  on_clash text NOT NULL DEFAULT 'keep-both' CHECK (on_clash IN ('skip', 'replace', 'keep-both')),
  progress_done integer NOT NULL DEFAULT 0,
  progress_total integer NOT NULL DEFAULT 0,
  progress_what text NOT NULL DEFAULT '',
  failure text,
  created_at timestamptz NOT NULL DEFAULT now(),
  CHECK ((state = 'failed') = (failure IS NOT NULL))
);

CREATE TABLE intake_uploads (
  intake uuid NOT NULL REFERENCES intakes ON DELETE CASCADE,
  position integer NOT NULL,
  name text NOT NULL CHECK (name <> ''),
  sha256 text NOT NULL REFERENCES files,
  PRIMARY KEY (intake, position)
);

CREATE TABLE intake_ignored (
  intake uuid NOT NULL REFERENCES intakes ON DELETE CASCADE,
  position integer NOT NULL,
  file text NOT NULL,
  reason text NOT NULL CHECK (reason <> ''),
  PRIMARY KEY (intake, position)
);

CREATE TABLE sources (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  supplier uuid REFERENCES suppliers,
  product text,
  product_code text,
  page text,
  licence uuid REFERENCES licences,
  intake uuid REFERENCES intakes
);

-- Materials and their revisions ----------------------------------------------------------------------------

CREATE SEQUENCE material_numbers;

CREATE TABLE materials (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  code text NOT NULL UNIQUE CHECK (code <> ''),
  -- For folders and files at the receiving end; never changes, so that a renamed material keeps its links.
  file_name text NOT NULL UNIQUE CHECK (file_name ~ '^[a-z0-9][a-z0-9-]*$'),
  name text NOT NULL CHECK (name <> '' AND length(name) <= 200),
  kind text NOT NULL CHECK (kind IN ('material', 'wear', 'environment')),
  layout text NOT NULL CHECK (layout IN ('repeating', 'placed', 'cut-outs', 'plain')),
  line uuid REFERENCES lines,
  -- In what this variant differs from the others of its line: {"colour": "flint"}.
  variant jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(variant) = 'object'),
  source uuid NOT NULL REFERENCES sources,
  made_from uuid REFERENCES materials,
  revision integer NOT NULL DEFAULT 1 CHECK (revision > 0),
  created_by uuid NOT NULL REFERENCES people,
  created_at timestamptz NOT NULL DEFAULT now(),
  deleted_at timestamptz
);
CREATE INDEX materials_name_words ON materials USING gin (name gin_trgm_ops);
CREATE INDEX materials_code_words ON materials USING gin (code gin_trgm_ops);
CREATE INDEX materials_in_order ON materials (lower(name), id) WHERE deleted_at IS NULL;

CREATE TABLE revisions (
  material uuid NOT NULL REFERENCES materials ON DELETE CASCADE,
  number integer NOT NULL CHECK (number > 0),
  repeat_width_mm double precision CHECK (repeat_width_mm > 0),
  repeat_height_mm double precision CHECK (repeat_height_mm > 0),
  size_state text NOT NULL CHECK (size_state IN ('known', 'assumed', 'unknown')),
  -- How the size was found: the method as it was given.
  gauge jsonb,
  finish jsonb NOT NULL,
  findings jsonb NOT NULL DEFAULT '[]',
  note text NOT NULL DEFAULT '',
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (material, number),
  CHECK ((repeat_width_mm IS NULL) = (repeat_height_mm IS NULL)),
  CHECK ((size_state = 'unknown') = (repeat_width_mm IS NULL))
);
ALTER TABLE materials ADD CONSTRAINT materials_current_revision
  FOREIGN KEY (id, revision) REFERENCES revisions (material, number) DEFERRABLE INITIALLY DEFERRED;

CREATE TABLE maps (
  material uuid NOT NULL,
  revision integer NOT NULL,
  role text NOT NULL CHECK (role IN (
    'base_color', 'specular_roughness', 'gloss', 'base_metalness', 'geometry_normal', 'height', 'bump',
    'ambient_occlusion', 'geometry_opacity', 'subsurface_color', 'transmission_weight', 'emission_color',
    'specular_weight', 'specular_color', 'coat_weight', 'reference')),
  sha256 text NOT NULL REFERENCES images,
  channel text NOT NULL CHECK (channel IN ('color', 'alpha')),
  file_name text NOT NULL,
  normal_direction text CHECK (normal_direction IN ('+Y', '-Y')),
  PRIMARY KEY (material, revision, role),
  FOREIGN KEY (material, revision) REFERENCES revisions (material, number) ON DELETE CASCADE,
  CHECK (normal_direction IS NULL OR role = 'geometry_normal')
);
CREATE INDEX maps_file ON maps (sha256);

-- What an intake recognised --------------------------------------------------------------------------------

CREATE TABLE candidates (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  intake uuid NOT NULL REFERENCES intakes ON DELETE CASCADE,
  position integer NOT NULL,
  name text NOT NULL CHECK (name <> ''),
  kind text NOT NULL CHECK (kind IN ('material', 'wear', 'environment')),
  findings jsonb NOT NULL DEFAULT '[]',
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'accepted')),
  material uuid REFERENCES materials,
  UNIQUE (intake, position),
  CHECK ((state = 'accepted') = (material IS NOT NULL))
);

CREATE TABLE candidate_maps (
  candidate uuid NOT NULL REFERENCES candidates ON DELETE CASCADE,
  position integer NOT NULL,
  file text NOT NULL,
  sha256 text NOT NULL REFERENCES images,
  channel text NOT NULL CHECK (channel IN ('color', 'alpha')),
  role text NOT NULL,
  confidence real NOT NULL CHECK (confidence BETWEEN 0 AND 1),
  normal_direction text CHECK (normal_direction IN ('+Y', '-Y')),
  likely text[] NOT NULL DEFAULT '{}',
  PRIMARY KEY (candidate, file)
);

-- Collections and projects ---------------------------------------------------------------------------------

CREATE TABLE collections (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL CHECK (name <> '' AND length(name) <= 200),
  parent uuid REFERENCES collections CHECK (parent <> id),
  created_by uuid REFERENCES people,
  created_at timestamptz NOT NULL DEFAULT now(),
  CONSTRAINT collections_name UNIQUE NULLS NOT DISTINCT (parent, name)
);

CREATE TABLE collection_materials (
  collection uuid NOT NULL REFERENCES collections ON DELETE CASCADE,
  material uuid NOT NULL REFERENCES materials,
  added_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (collection, material)
);
CREATE INDEX collection_materials_material ON collection_materials (material);

CREATE TABLE project_collections (
  project uuid NOT NULL REFERENCES projects ON DELETE CASCADE,
  collection uuid NOT NULL REFERENCES collections ON DELETE CASCADE,
  PRIMARY KEY (project, collection)
);

CREATE TABLE project_materials (
  project uuid NOT NULL REFERENCES projects ON DELETE CASCADE,
  material uuid NOT NULL REFERENCES materials,
  PRIMARY KEY (project, material)
);

-- The revision that a project took, whether singly or through a collection; it stays until somebody moves it on.
CREATE TABLE project_revisions (
  project uuid NOT NULL REFERENCES projects ON DELETE CASCADE,
  material uuid NOT NULL,
  revision integer NOT NULL,
  PRIMARY KEY (project, material),
  FOREIGN KEY (material, revision) REFERENCES revisions (material, number)
);

-- Profiles, destinations and deliveries ----------------------------------------------------------------------

CREATE TABLE profiles (
  id text PRIMARY KEY CHECK (id ~ '^[a-z0-9-]+$'),
  name text NOT NULL UNIQUE CHECK (name <> ''),
  position integer NOT NULL DEFAULT 0,
  data jsonb NOT NULL
);

CREATE TABLE destinations (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL UNIQUE CHECK (name <> ''),
  -- Relative to the folder that holds all destinations.
  folder text NOT NULL UNIQUE CHECK (folder ~ '^[A-Za-z0-9][A-Za-z0-9 _-]*$')
);

CREATE TABLE deliveries (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  person uuid NOT NULL REFERENCES people,
  state text NOT NULL DEFAULT 'planned' CHECK (state IN ('planned', 'running', 'done', 'failed', 'cancelled')),
  cancel_asked boolean NOT NULL DEFAULT false,
  project uuid REFERENCES projects ON DELETE SET NULL,
  collection uuid REFERENCES collections ON DELETE SET NULL,
  destination uuid REFERENCES destinations,
  profiles text[] NOT NULL CHECK (cardinality(profiles) > 0),
  max_pixels integer CHECK (max_pixels >= 16),
  -- The plan, fixed when the delivery is asked for.
  plan jsonb NOT NULL,
  account jsonb,
  progress_done integer NOT NULL DEFAULT 0,
  progress_total integer NOT NULL DEFAULT 0,
  progress_what text NOT NULL DEFAULT '',
  failure text,
  created_at timestamptz NOT NULL DEFAULT now(),
  started_at timestamptz,
  ended_at timestamptz,
  CHECK ((state = 'done') = (account IS NOT NULL)),
  CHECK ((state = 'failed') = (failure IS NOT NULL))
);
CREATE INDEX deliveries_newest ON deliveries (created_at DESC);

CREATE TABLE delivery_materials (
  delivery uuid NOT NULL REFERENCES deliveries ON DELETE CASCADE,
  material uuid NOT NULL,
  revision integer NOT NULL,
  PRIMARY KEY (delivery, material),
  FOREIGN KEY (material, revision) REFERENCES revisions (material, number)
);
CREATE INDEX delivery_materials_material ON delivery_materials (material);

-- A converted file by what it was made from and how; it can be thrown away and made again.
CREATE TABLE derived_files (
  recipe text PRIMARY KEY CHECK (recipe ~ '^[0-9a-f]{64}$'),
  sha256 text NOT NULL REFERENCES files
);

-- What lies at a destination, so that a file that did not change is left alone.
CREATE TABLE destination_files (
  destination uuid NOT NULL REFERENCES destinations ON DELETE CASCADE,
  path text NOT NULL,
  sha256 text NOT NULL,
  delivery uuid NOT NULL REFERENCES deliveries,
  PRIMARY KEY (destination, path)
);

-- Workers that are alive, so that the jobs of one that died are taken over.
CREATE TABLE workers (
  id text PRIMARY KEY,
  seen_at timestamptz NOT NULL DEFAULT now()
);
