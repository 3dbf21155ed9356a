-- Lists of paths, and scenes that name them, that were handed in to be looked for.
CREATE TABLE link_lists (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL CHECK (name <> '' AND length(name) <= 200),
  file text NOT NULL REFERENCES files,
  bytes bigint NOT NULL,
  state text NOT NULL DEFAULT 'reading' CHECK (state IN ('reading', 'done', 'failed')),
  failure text CHECK ((failure IS NULL) = (state <> 'failed')),
  -- How many there are, were looked for so far, and were left out, too long or too many.
  found integer NOT NULL DEFAULT 0,
  looked_at integer NOT NULL DEFAULT 0,
  left_out integer NOT NULL DEFAULT 0,
  -- How many of each state; the first of each; the whole as a table.
  counts jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(counts) = 'object'),
  first jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(first) = 'array'),
  result text REFERENCES files,
  CHECK (state <> 'done' OR result IS NOT NULL),
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX link_lists_day ON link_lists (made_by, made_at);
-- A file at a destination is looked for by its content, too.
CREATE INDEX destination_files_hash ON destination_files (sha256);
