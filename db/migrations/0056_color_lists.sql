-- Up Migration

-- Lists of coded colours that were handed in to become lines of plain materials.
CREATE TABLE color_lists (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  name text NOT NULL CHECK (name <> '' AND length(name) <= 200),
  file text NOT NULL REFERENCES files,
  bytes bigint NOT NULL,
  supplier text NOT NULL CHECK (supplier <> '' AND length(supplier) <= 200),
  line_name text NOT NULL CHECK (line_name <> '' AND length(line_name) <= 200),
  -- Of those colours whose row says none.
  family text NOT NULL DEFAULT 'paint',
  -- What a person says of the table: sheet, columns, white.
  wish jsonb NOT NULL DEFAULT '{}' CHECK (jsonb_typeof(wish) = 'object'),
  -- Whether what is read becomes materials without anybody's looking.
  goes_on boolean NOT NULL DEFAULT false,
  state text NOT NULL DEFAULT 'reading' CHECK (state IN ('reading', 'read', 'making', 'done', 'undoing', 'undone', 'failed')),
  failure text,
  -- The table and what was read in it, without its rows.
  table_read jsonb,
  line uuid REFERENCES lines,
  made_by uuid NOT NULL REFERENCES people,
  made_at timestamptz NOT NULL DEFAULT now(),
  done_at timestamptz,
  undone_by uuid REFERENCES people
);
CREATE INDEX color_lists_day ON color_lists (made_by, made_at);
CREATE INDEX color_lists_line ON color_lists (line, done_at);

-- What each row that is a colour became.
CREATE TABLE color_list_items (
  list uuid NOT NULL REFERENCES color_lists ON DELETE CASCADE,
  place integer NOT NULL,
  code text NOT NULL,
  listed jsonb NOT NULL CHECK (jsonb_typeof(listed) = 'object'),
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'made', 'changed', 'same', 'kept', 'undone')),
  material uuid REFERENCES materials,
  -- The material before and after: what taking it back needs.
  before jsonb,
  after jsonb,
  -- What was changed, or why it was not, in words.
  said text NOT NULL DEFAULT '',
  PRIMARY KEY (list, place)
);
CREATE INDEX color_list_items_waiting ON color_list_items (list, place) WHERE state = 'waiting';
CREATE INDEX color_list_items_material ON color_list_items (material);
