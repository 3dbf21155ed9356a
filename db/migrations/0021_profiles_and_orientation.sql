-- What colours were embedded in, by name, and how the rows lie, in place of a mere yes or no.
ALTER TABLE images
  ADD COLUMN color_space text NOT NULL DEFAULT 'rgb' CHECK (color_space IN ('grey', 'rgb', 'cmyk')),
  ADD COLUMN profile text CHECK (length(profile) BETWEEN 1 AND 120),
  ADD COLUMN orientation smallint NOT NULL DEFAULT 1 CHECK (orientation BETWEEN 1 AND 8);
UPDATE images SET profile = 'one without a name' WHERE foreign_profile;
UPDATE images SET color_space = 'grey' WHERE channels <= 2;
ALTER TABLE images DROP COLUMN foreign_profile;

-- Seams are measured in another way: they are read anew when a material is next judged.
UPDATE images SET reading = reading - 'seams' WHERE reading IS NOT NULL;
