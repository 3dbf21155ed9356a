-- Up Migration
-- Whether there is one of a name already is asked of every candidate; the order of the library leaves environments out, and cannot answer it.
CREATE INDEX materials_by_name ON materials (lower(name)) WHERE deleted_at IS NULL;
