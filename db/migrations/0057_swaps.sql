-- Up Migration

-- Another variant can take the places of one, in collections and projects.
ALTER TABLE bulk_changes
  DROP CONSTRAINT bulk_changes_kind_check,
  ADD CONSTRAINT bulk_changes_kind_check CHECK (kind IN ('size', 'facts', 'name', 'grade', 'place', 'swap', 'delete'));
