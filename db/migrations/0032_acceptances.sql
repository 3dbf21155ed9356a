-- What somebody takes into the library in one go is asked for here; where it is much, the worker does it while the asker waits.
CREATE TABLE acceptances (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  intake uuid NOT NULL REFERENCES intakes ON DELETE CASCADE,
  person uuid NOT NULL REFERENCES people,
  asked jsonb NOT NULL,
  asked_at timestamptz NOT NULL DEFAULT now(),
  ended_at timestamptz,
  made jsonb,
  failure jsonb,
  CHECK ((ended_at IS NULL) = (made IS NULL AND failure IS NULL)),
  CHECK (made IS NULL OR failure IS NULL)
);
CREATE INDEX acceptances_intake ON acceptances (intake);
