-- Up Migration

-- What is searched for, in small letters: comparing is several times as fast as where case has to be set aside each time.
ALTER TABLE materials ADD COLUMN words text NOT NULL GENERATED ALWAYS AS (lower(name || ' ' || code)) STORED;
DROP INDEX materials_name_words;
DROP INDEX materials_code_words;
CREATE INDEX materials_words ON materials USING gin (words gin_trgm_ops);
