-- Fingerprints do not know of mirroring any more, and those of before compare with none of these: pictures are read anew by
-- the worker, and one that is judged before its turn comes first.
DELETE FROM fingerprints;
UPDATE images SET reading = reading - 'seams' WHERE reading IS NOT NULL;
ALTER TABLE likenesses ADD COLUMN mirrored boolean NOT NULL DEFAULT false;
