-- Up Migration

-- The grain is looked for along with the modules, and herringbone at 45° is told apart: counted again when somebody looks.
DELETE FROM module_counts;
