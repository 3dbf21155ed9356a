-- Destinations that are delivered to again by themselves, whenever a project or a profile goes on.
CREATE TABLE kept_destinations (
  project uuid NOT NULL REFERENCES projects ON DELETE CASCADE,
  destination uuid NOT NULL REFERENCES destinations ON DELETE CASCADE,
  -- Who wanted it: in whose name it is delivered.
  person uuid NOT NULL REFERENCES people,
  set_at timestamptz NOT NULL DEFAULT now(),
  -- Why it could not be delivered the last time.
  failure text CHECK (failure <> ''),
  PRIMARY KEY (project, destination)
);
