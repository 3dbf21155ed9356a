-- Up Migration

-- A collection that fills itself with what a search finds, as its address says it.
ALTER TABLE collections ADD COLUMN filter jsonb CHECK (jsonb_typeof(filter) = 'object' AND filter <> '{}');
CREATE INDEX collections_filled ON collections (id) WHERE filter IS NOT NULL;
