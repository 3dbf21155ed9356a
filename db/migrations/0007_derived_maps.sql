-- Up Migration

-- How a map was derived from others, in order: the kinds of the recipes; empty where it is as it came.
ALTER TABLE maps ADD COLUMN derived text[] NOT NULL DEFAULT '{}';
