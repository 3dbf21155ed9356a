-- Up Migration

-- The program counts better now: what it counted before is counted again when somebody looks.
DELETE FROM module_counts;
