-- Up Migration

-- What somebody answered to a question that files of an intake share, and whether it holds for later files of their source.
CREATE TABLE answers (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  intake uuid REFERENCES intakes ON DELETE SET NULL,
  asks text NOT NULL CHECK (asks IN ('role', 'direction')),
  channel text NOT NULL CHECK (channel IN ('color', 'red', 'green', 'blue', 'alpha')),
  -- How the names of the files end, and those of the other files of their sets.
  mark text NOT NULL,
  companions text[] NOT NULL,
  answer text NOT NULL,
  is_kept boolean NOT NULL,
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  taken_back_at timestamptz,
  CHECK (NOT is_kept OR mark <> ''),
  CHECK ((asks = 'direction') = (answer IN ('+Y', '-Y')))
);
CREATE INDEX answers_kept ON answers (mark, made_at DESC) WHERE is_kept AND taken_back_at IS NULL;
CREATE INDEX answers_intake ON answers (intake);

ALTER TABLE candidate_maps
  ADD COLUMN left_out boolean NOT NULL DEFAULT false,
  ADD COLUMN answer uuid REFERENCES answers,
  -- What was read of it, for taking the answer back.
  ADD COLUMN before_answer jsonb,
  ADD CONSTRAINT candidate_maps_answered CHECK ((answer IS NULL) = (before_answer IS NULL)),
  ADD CONSTRAINT candidate_maps_left_out CHECK (NOT left_out OR role = 'unknown');
CREATE INDEX candidate_maps_answer ON candidate_maps (answer) WHERE answer IS NOT NULL;
CREATE INDEX candidate_maps_asked ON candidate_maps (candidate) WHERE role = 'unknown' AND NOT left_out;

-- What is to be judged anew, since somebody has said what its maps are.
ALTER TABLE candidates ADD COLUMN is_stale boolean NOT NULL DEFAULT false;
CREATE INDEX candidates_stale ON candidates (intake) WHERE is_stale;
