-- An intake is read in stages, whose steps several workers share: what came in is unpacked, its files are studied, its sets are judged.
ALTER TABLE intakes
  ADD COLUMN stage text NOT NULL DEFAULT 'unpack' CHECK (stage IN ('unpack', 'study', 'judge')),
  -- What came out of the unpacking beside the files that are studied.
  ADD COLUMN unpacked jsonb;

CREATE TABLE intake_steps (
  intake uuid NOT NULL REFERENCES intakes ON DELETE CASCADE,
  stage text NOT NULL CHECK (stage IN ('study', 'judge')),
  position int NOT NULL,
  content jsonb NOT NULL,
  -- Which of the intake's lanes has taken it.
  lane int,
  outcome jsonb,
  PRIMARY KEY (intake, stage, position)
);
CREATE INDEX intake_steps_open ON intake_steps (intake, stage, position) WHERE outcome IS NULL;

-- How many batches a worker works on at a time.
ALTER TABLE workers ADD COLUMN lanes int NOT NULL DEFAULT 0;
