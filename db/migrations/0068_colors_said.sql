-- Up Migration
-- How much a surface is called by any colour's name: a part that may be called by two of them counts twice. As `COLOR_WORDS` has them.
CREATE FUNCTION color_words_share(terms jsonb) RETURNS real LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
  SELECT (COALESCE((terms->>'white')::real, 0) + COALESCE((terms->>'cream')::real, 0) + COALESCE((terms->>'beige')::real, 0)
    + COALESCE((terms->>'grey')::real, 0) + COALESCE((terms->>'black')::real, 0) + COALESCE((terms->>'brown')::real, 0)
    + COALESCE((terms->>'ochre')::real, 0) + COALESCE((terms->>'yellow')::real, 0) + COALESCE((terms->>'orange')::real, 0)
    + COALESCE((terms->>'red')::real, 0) + COALESCE((terms->>'pink')::real, 0) + COALESCE((terms->>'purple')::real, 0)
    + COALESCE((terms->>'blue')::real, 0) + COALESCE((terms->>'turquoise')::real, 0) + COALESCE((terms->>'green')::real, 0))::real
$$;
ALTER TABLE materials
  ADD COLUMN color_words_share real GENERATED ALWAYS AS (color_words_share(color_terms)) STORED;

-- A word counts as well as it says a colour: the worker reads them again for what is there.
ALTER TABLE revisions DISABLE TRIGGER revisions_light;
UPDATE revisions SET color_terms = NULL FROM materials m WHERE m.id = material AND m.revision = number AND m.color_terms IS NOT NULL;
ALTER TABLE revisions ENABLE TRIGGER revisions_light;
UPDATE materials SET color_terms = NULL WHERE color_terms IS NOT NULL;
