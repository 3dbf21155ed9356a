-- What is changed of a finish for one renderer alone, by the profile's id. A revision takes over those of the one before.
ALTER TABLE revisions ADD COLUMN corrections jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(corrections) = 'object');
