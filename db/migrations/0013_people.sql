-- Up Migration

-- Sessions can be told apart and ended one by one.
ALTER TABLE sessions
  ADD COLUMN id uuid NOT NULL UNIQUE DEFAULT gen_random_uuid(),
  ADD COLUMN agent text NOT NULL DEFAULT '';

-- Attempts to sign in, shared by all web processes: so many points of a key until they lapse, in ms since 1970.
CREATE TABLE sign_in_limits (
  key text PRIMARY KEY,
  points integer NOT NULL DEFAULT 0,
  expire bigint
);
