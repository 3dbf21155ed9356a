-- What was made of images, of those that were not there before: how much, by a measure of its own, and how long that took. From it comes
-- what the next delivery may take.
ALTER TABLE deliveries
  ADD COLUMN made_cost float8 NOT NULL DEFAULT 0 CHECK (made_cost >= 0),
  ADD COLUMN made_seconds float8 NOT NULL DEFAULT 0 CHECK (made_seconds >= 0);
