-- Up Migration

-- What the program counted in a picture and the height beside it, where there is one.
CREATE TABLE module_counts (
  base text NOT NULL REFERENCES images,
  height text NOT NULL DEFAULT '',
  found jsonb NOT NULL,
  PRIMARY KEY (base, height)
);
