-- A finding keeps what it is told, and its sentence is made when somebody reads it. Older ones keep their sentences, and learn which
-- file they point at where they only named it.
CREATE FUNCTION finding_as_data(finding jsonb, files text[]) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
  SELECT jsonb_build_object('level', finding->'level', 'code', finding->'code', 'told', jsonb_build_object('sentence', finding->'message'))
      || CASE
           WHEN finding ? 'file' THEN jsonb_build_object('file', finding->'file')
           ELSE coalesce(
             (SELECT jsonb_build_object('file', file) FROM unnest(files) file WHERE starts_with(finding->>'message', file || ' ') LIMIT 1),
             '{}')
         END
$$;
CREATE FUNCTION findings_as_data(findings jsonb, files text[]) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
  SELECT coalesce(jsonb_agg(CASE WHEN one ? 'told' THEN one ELSE finding_as_data(one, files) END ORDER BY place), '[]')
  FROM jsonb_array_elements(findings) WITH ORDINALITY AS all_of (one, place)
$$;

UPDATE candidates SET findings = findings_as_data(findings, ARRAY(SELECT file FROM candidate_maps m WHERE m.candidate = candidates.id))
WHERE findings <> '[]';
UPDATE revisions SET findings = findings_as_data(findings, '{}') WHERE findings <> '[]';
UPDATE mends SET proposal = jsonb_set(proposal, '{findings}', findings_as_data(proposal->'findings', '{}'))
WHERE proposal ? 'findings';

DROP FUNCTION findings_as_data;
DROP FUNCTION finding_as_data;
