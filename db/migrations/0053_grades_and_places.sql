-- Up Migration

-- Many at once can be finished with a grade, and put into collections or taken out of them.
ALTER TABLE bulk_changes
  DROP CONSTRAINT bulk_changes_kind_check,
  ADD CONSTRAINT bulk_changes_kind_check CHECK (kind IN ('size', 'facts', 'name', 'grade', 'place', 'delete'));
