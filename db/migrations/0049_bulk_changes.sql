-- Up Migration

-- One act on many materials: what was asked for, and what became of each, so that it can be told and taken back.
CREATE TABLE bulk_changes (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  kind text NOT NULL CHECK (kind IN ('size', 'facts', 'name', 'delete')),
  -- What is to become of all of them; empty where it is each one's own.
  asked jsonb NOT NULL CHECK (jsonb_typeof(asked) = 'object'),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  state text NOT NULL DEFAULT 'running' CHECK (state IN ('running', 'done', 'undoing', 'undone')),
  failure text,
  undone_by uuid REFERENCES people,
  undone_at timestamptz,
  CHECK ((state IN ('undoing', 'undone')) = (undone_by IS NOT NULL)),
  CHECK ((undone_by IS NULL) = (undone_at IS NULL))
);
CREATE INDEX bulk_changes_newest ON bulk_changes (made_at DESC);

CREATE TABLE bulk_change_items (
  change uuid NOT NULL REFERENCES bulk_changes ON DELETE CASCADE,
  place int NOT NULL CHECK (place > 0),
  material uuid NOT NULL REFERENCES materials ON DELETE CASCADE,
  asked jsonb,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'changed', 'same', 'refused', 'undone', 'kept')),
  -- Why it was refused, or was not taken back.
  reason text,
  -- What there was and what there is, for taking it back, and both in words.
  before jsonb,
  after jsonb,
  said jsonb,
  PRIMARY KEY (change, place),
  UNIQUE (change, material),
  CHECK ((state IN ('changed', 'undone', 'kept')) = (before IS NOT NULL AND after IS NOT NULL AND said IS NOT NULL)),
  CHECK ((state IN ('refused', 'kept')) = (reason IS NOT NULL))
);
CREATE INDEX bulk_change_items_open ON bulk_change_items (change, state, place);
CREATE INDEX bulk_change_items_material ON bulk_change_items (material);

-- Modules that a studio works with, beside the standard formats.
CREATE TABLE own_formats (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL CHECK (length(btrim(name)) BETWEEN 1 AND 200),
  kind text NOT NULL CHECK (kind IN ('brick', 'block', 'paving', 'tile', 'board', 'slate', 'roof tile', 'panel')),
  module jsonb NOT NULL CHECK (jsonb_typeof(module) = 'object'),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX own_formats_name ON own_formats (lower(name));

-- Modules that were taken last come first where one is chosen.
CREATE INDEX revisions_modules ON revisions (made_at DESC) WHERE gauge->>'method' = 'modules';
-- Who took the size of another.
CREATE INDEX revisions_same_as ON revisions ((gauge->>'material')) WHERE gauge->>'method' = 'same-as';
CREATE INDEX materials_line ON materials (line) WHERE line IS NOT NULL AND deleted_at IS NULL;
CREATE INDEX sources_intake ON sources (intake) WHERE intake IS NOT NULL;
