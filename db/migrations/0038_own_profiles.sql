-- Beside the profiles that ship there are the studio's own; each says what it said when something was delivered.
ALTER TABLE profiles
  ADD COLUMN shipped boolean NOT NULL DEFAULT true,
  ADD COLUMN revision integer NOT NULL DEFAULT 1 CHECK (revision > 0),
  ADD COLUMN retired_at timestamptz,
  ADD CONSTRAINT profiles_name_length CHECK (length(name) <= 80),
  ADD CONSTRAINT profiles_id_length CHECK (length(id) <= 60);
ALTER TABLE profiles ALTER COLUMN shipped DROP DEFAULT;

CREATE TABLE profile_revisions (
  profile text NOT NULL REFERENCES profiles,
  number integer NOT NULL CHECK (number > 0),
  data jsonb NOT NULL CHECK (jsonb_typeof(data) = 'object'),
  -- Nobody where it ships.
  made_by uuid REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (profile, number)
);
INSERT INTO profile_revisions (profile, number, data) SELECT id, 1, data FROM profiles;

-- Which revision of a profile a delivery was planned with.
CREATE TABLE delivery_profiles (
  delivery uuid NOT NULL REFERENCES deliveries ON DELETE CASCADE,
  profile text NOT NULL REFERENCES profiles,
  revision integer NOT NULL,
  PRIMARY KEY (delivery, profile),
  FOREIGN KEY (profile, revision) REFERENCES profile_revisions (profile, number)
);
INSERT INTO delivery_profiles (delivery, profile, revision)
  SELECT DISTINCT d.id, p.id, 1 FROM deliveries d JOIN profiles p ON p.id = ANY (d.profiles);
