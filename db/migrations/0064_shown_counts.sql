-- Up Migration

-- How many materials a library shows, kept as they come and go: counting a hundred thousand takes longer than a page of them. Each change
-- is a row of its own, so that nobody waits for anybody; now and then they are added up.
CREATE TABLE shown_counts (
  kind text NOT NULL,
  by integer NOT NULL
);
INSERT INTO shown_counts SELECT kind, count(*) FROM materials WHERE deleted_at IS NULL AND merged_into IS NULL GROUP BY kind;

CREATE FUNCTION count_shown() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  was text := NULL;
  now_is text := NULL;
BEGIN
  IF TG_OP <> 'INSERT' AND OLD.deleted_at IS NULL AND OLD.merged_into IS NULL THEN was := OLD.kind; END IF;
  IF TG_OP <> 'DELETE' AND NEW.deleted_at IS NULL AND NEW.merged_into IS NULL THEN now_is := NEW.kind; END IF;
  IF was IS NOT DISTINCT FROM now_is THEN RETURN NULL; END IF;
  INSERT INTO shown_counts SELECT kind, by FROM (VALUES (was, -1), (now_is, 1)) AS v (kind, by) WHERE kind IS NOT NULL;
  IF random() < 0.002 THEN
    WITH gone AS (
      DELETE FROM shown_counts WHERE ctid = ANY (ARRAY(SELECT ctid FROM shown_counts FOR UPDATE SKIP LOCKED)) RETURNING kind, by)
    INSERT INTO shown_counts SELECT kind, sum(by) FROM gone GROUP BY kind HAVING sum(by) <> 0;
  END IF;
  RETURN NULL;
END $$;
CREATE TRIGGER materials_counted AFTER INSERT OR DELETE OR UPDATE OF kind, deleted_at, merged_into ON materials
  FOR EACH ROW EXECUTE FUNCTION count_shown();

-- The newest first, a page at a time.
CREATE INDEX materials_newest ON materials (created_at DESC, id) WHERE deleted_at IS NULL AND merged_into IS NULL;
