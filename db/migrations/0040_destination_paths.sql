-- Where a destination lies as people's machines see it: a drive, a share, a mount, one for each kind of machine.
ALTER TABLE destinations ADD COLUMN paths jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(paths) = 'array');
-- A link is looked for by the name of its file.
CREATE INDEX destination_files_name ON destination_files (lower(substring(path FROM '[^/]*$')));
