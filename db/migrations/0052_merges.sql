-- Up Migration

-- A material that turned out to be another one: the library shows the other, projects that took this one keep it until they move on.
ALTER TABLE materials
  ADD COLUMN merged_into uuid REFERENCES materials,
  ADD CONSTRAINT materials_not_merged_into_itself CHECK (merged_into <> id);
CREATE INDEX materials_merged ON materials (merged_into) WHERE merged_into IS NOT NULL;

CREATE TABLE merges (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  kept uuid NOT NULL REFERENCES materials ON DELETE CASCADE,
  lost uuid NOT NULL REFERENCES materials ON DELETE CASCADE,
  -- What was taken from the one that was lost: name, maps, size, finish, facts.
  taken text[] NOT NULL,
  -- What there was before and what there was afterwards, for undoing it.
  before jsonb NOT NULL CHECK (jsonb_typeof(before) = 'object'),
  after jsonb NOT NULL CHECK (jsonb_typeof(after) = 'object'),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  undone_at timestamptz,
  CHECK (kept <> lost)
);
CREATE UNIQUE INDEX merges_lost ON merges (lost) WHERE undone_at IS NULL;
CREATE INDEX merges_kept ON merges (kept, made_at DESC);

-- Materials that came into a line by being decided to be variants of each other.
ALTER TABLE likenesses ADD COLUMN lined uuid[] NOT NULL DEFAULT '{}';
