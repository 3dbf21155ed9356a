-- What was made of images, of those that were not there before: bytes that were encoded, and how long that took. From it comes what the
-- next delivery may take.
ALTER TABLE deliveries
  ADD COLUMN made_bytes bigint NOT NULL DEFAULT 0 CHECK (made_bytes >= 0),
  ADD COLUMN made_seconds real NOT NULL DEFAULT 0 CHECK (made_seconds >= 0);
