-- Up Migration

-- Materials that somebody has selected to do something with on another page: more than an address holds. Kept for a day.
CREATE TABLE selections (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  materials uuid[] NOT NULL CHECK (cardinality(materials) BETWEEN 1 AND 5000)
);

-- Pictures of the library's maps that are made again: one run, and those of its pictures that could not be made.
CREATE TABLE remakes (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  done_at timestamptz,
  failure text
);
CREATE TABLE remake_items (
  remake uuid NOT NULL REFERENCES remakes ON DELETE CASCADE,
  sha256 text NOT NULL REFERENCES images,
  channel text NOT NULL CHECK (channel IN ('color', 'alpha')),
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'made', 'failed')),
  reason text CHECK ((reason IS NULL) = (state <> 'failed')),
  PRIMARY KEY (remake, sha256, channel)
);
CREATE INDEX remake_items_waiting ON remake_items (remake, sha256, channel) WHERE state = 'waiting';
