-- Which roles there are is known to the program, which writes them here: a new one needs no migration.
CREATE TABLE roles (name text PRIMARY KEY);
INSERT INTO roles SELECT unnest(ARRAY[
  'base_color', 'specular_roughness', 'gloss', 'base_metalness', 'geometry_normal', 'height', 'bump', 'ambient_occlusion',
  'geometry_opacity', 'subsurface_color', 'transmission_weight', 'emission_color', 'specular_weight', 'specular_color', 'coat_weight',
  'reference', 'wear_mask', 'environment']);
ALTER TABLE maps DROP CONSTRAINT maps_role_check, ADD FOREIGN KEY (role) REFERENCES roles;
