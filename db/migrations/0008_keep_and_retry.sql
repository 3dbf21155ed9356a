-- Up Migration

-- What the studio has settled once for all its people: one row.
CREATE TABLE studio (
  one boolean PRIMARY KEY DEFAULT true CHECK (one),
  name_rule text CHECK (name_rule <> '' AND length(name_rule) <= 120)
);
INSERT INTO studio DEFAULT VALUES;

-- The camera that a project's pictures are made with.
ALTER TABLE projects
  ADD COLUMN camera_width_px integer CHECK (camera_width_px BETWEEN 1 AND 32768),
  ADD COLUMN camera_angle_degrees double precision CHECK (camera_angle_degrees BETWEEN 1 AND 170),
  ADD CONSTRAINT projects_camera CHECK ((camera_width_px IS NULL) = (camera_angle_degrees IS NULL));

-- The file itself, where it was kept: so that it can be tried again.
ALTER TABLE intake_ignored ADD COLUMN sha256 text REFERENCES files;
