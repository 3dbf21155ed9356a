-- Up Migration

ALTER TABLE intakes
  -- How many files its sender announced; null where they came in one request.
  ADD COLUMN expected integer CHECK (expected BETWEEN 1 AND 100000);
