-- What an intake holds is counted as it arrives: asking how much of it there is reads one row, however many files it has.
ALTER TABLE intakes ADD COLUMN files integer NOT NULL DEFAULT 0 CHECK (files >= 0);
ALTER TABLE intakes ADD COLUMN file_bytes bigint NOT NULL DEFAULT 0 CHECK (file_bytes >= 0);
-- The folder that all its files come from; null where they come from several, or from none.
ALTER TABLE intakes ADD COLUMN root text CHECK (root <> '');

UPDATE intakes SET files = counted.files, file_bytes = counted.bytes, root = counted.root
  FROM (SELECT intake, count(*) AS files, sum(bytes) AS bytes,
          CASE WHEN bool_and(position('/' IN name) > 1) AND min(split_part(name, '/', 1)) = max(split_part(name, '/', 1))
            THEN min(split_part(name, '/', 1)) END AS root
          FROM intake_uploads JOIN files USING (sha256) GROUP BY intake) AS counted
 WHERE counted.intake = intakes.id;

CREATE FUNCTION count_upload() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
  folder text := CASE WHEN position('/' IN NEW.name) > 1 THEN split_part(NEW.name, '/', 1) END;
BEGIN
  UPDATE intakes SET touched_at = now(), files = files + 1,
      file_bytes = file_bytes + (SELECT bytes FROM files WHERE sha256 = NEW.sha256),
      root = CASE WHEN files = 0 OR root = folder THEN folder END,
      -- Of files that come one by one, how far it is.
      progress_done = CASE WHEN state = 'receiving' AND ordered IS NULL THEN files + 1 ELSE progress_done END,
      progress_total = CASE WHEN state = 'receiving' AND ordered IS NULL THEN COALESCE(expected, 0) ELSE progress_total END
    WHERE id = NEW.intake;
  RETURN NULL;
END $$;
CREATE TRIGGER intake_uploads_counted AFTER INSERT ON intake_uploads FOR EACH ROW EXECUTE FUNCTION count_upload();

-- The newest first, by the page.
CREATE INDEX intakes_newest ON intakes (created_at DESC, id);
CREATE INDEX candidates_waiting ON candidates (intake) WHERE state = 'waiting';
-- What was deleted is little among what is there.
CREATE INDEX materials_deleted ON materials (id) WHERE deleted_at IS NOT NULL;
