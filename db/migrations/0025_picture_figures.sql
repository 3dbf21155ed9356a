-- Pictures of one surface lie near each other by these figures, whichever part of it they show. Those that are there already are
-- read by the worker.
CREATE EXTENSION IF NOT EXISTS cube;
CREATE TABLE picture_figures (
  sha256 text PRIMARY KEY REFERENCES images,
  figures cube NOT NULL CHECK (cube_dim(figures) = 28 AND cube_is_point(figures))
);
CREATE INDEX picture_figures_near ON picture_figures USING gist (figures);

-- What both pictures show where one is only a part of the other: shares of their sides, for the first and the second.
ALTER TABLE likenesses ADD COLUMN parts jsonb CHECK (jsonb_typeof(parts) = 'object' AND parts ?& ARRAY['first', 'second']);
