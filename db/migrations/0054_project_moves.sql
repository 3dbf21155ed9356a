-- Up Migration

-- What a project had before it moved on, so that it goes back in one act.
ALTER TABLE project_revisions ADD COLUMN before integer CHECK (before > 0);
