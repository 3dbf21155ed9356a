-- A mend can be looked at before it is kept: what it came to is held here until somebody keeps or drops it.
ALTER TABLE mends
  ADD COLUMN look_first boolean NOT NULL DEFAULT false,
  ADD COLUMN proposal jsonb,
  ADD CHECK (proposal IS NULL OR look_first);
