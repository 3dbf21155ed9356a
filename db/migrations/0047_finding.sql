-- Up Migration

-- Words that a surface may be called by its colours ("grey", "pale grey"), each with the share of it that is so, and its place in a row of
-- colours; after the finish, as its light reflectance is. Those that are there already are read by the worker.
ALTER TABLE revisions ADD COLUMN color_terms jsonb, ADD COLUMN color_order real;
ALTER TABLE materials ADD COLUMN color_terms jsonb, ADD COLUMN color_order real;
CREATE INDEX materials_color_terms ON materials USING gin (color_terms);
CREATE INDEX materials_color_order ON materials (color_order) WHERE deleted_at IS NULL;

-- What is listed and searched is that of the current revision.
CREATE OR REPLACE FUNCTION note_light_reflectance() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  UPDATE materials SET light_reflectance = NEW.light_reflectance, color_terms = NEW.color_terms, color_order = NEW.color_order
    WHERE id = NEW.material AND revision = NEW.number
      AND (light_reflectance, color_terms, color_order) IS DISTINCT FROM (NEW.light_reflectance, NEW.color_terms, NEW.color_order);
  RETURN NULL;
END $$;
DROP TRIGGER revisions_light ON revisions;
CREATE TRIGGER revisions_light AFTER INSERT OR UPDATE OF light_reflectance, color_terms ON revisions FOR EACH ROW
  EXECUTE FUNCTION note_light_reflectance();

-- What is searched for, without capitals and accents. (What unaccent does is said to change with its rules, which nobody changes here.)
CREATE EXTENSION IF NOT EXISTS unaccent SCHEMA public;
CREATE EXTENSION IF NOT EXISTS fuzzystrmatch SCHEMA public;
CREATE FUNCTION fold(text) RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE STRICT AS
  $$ SELECT lower(public.unaccent('public.unaccent'::regdictionary, $1)) $$;
ALTER TABLE materials DROP COLUMN words;
ALTER TABLE materials ADD COLUMN words text NOT NULL GENERATED ALWAYS AS (fold(name || ' ' || code)) STORED;
CREATE INDEX materials_words ON materials USING gin (words gin_trgm_ops);

-- Each word that a name or code ever had, for what is typed with a wrong letter. Two that are saved at the same time may both bring a word:
-- none waits for the other, and twice does no harm.
CREATE TABLE library_words (word text NOT NULL);
CREATE INDEX library_words_forwards ON library_words (word text_pattern_ops);
CREATE INDEX library_words_backwards ON library_words (reverse(word) text_pattern_ops);
INSERT INTO library_words
  SELECT DISTINCT word FROM materials, regexp_split_to_table(words, '[^[:alnum:]]+') AS word WHERE length(word) >= 3;

-- Its plan is made while the table is small, and kept while it grows: by its index from the beginning.
CREATE FUNCTION note_library_words() RETURNS trigger LANGUAGE plpgsql SET enable_seqscan = off AS $$
BEGIN
  INSERT INTO library_words
    SELECT DISTINCT own.word FROM regexp_split_to_table(NEW.words, '[^[:alnum:]]+') AS own(word)
     WHERE length(own.word) >= 3 AND NOT EXISTS (SELECT FROM library_words known WHERE known.word = own.word);
  RETURN NULL;
END $$;
CREATE TRIGGER materials_words AFTER INSERT OR UPDATE OF name, code ON materials FOR EACH ROW EXECUTE FUNCTION note_library_words();
