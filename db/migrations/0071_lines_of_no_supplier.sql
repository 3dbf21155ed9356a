-- Up Migration
-- Two downloads of which one is a variant of the other are a line, whether or not somebody knows who makes them. A line of no supplier
-- is one of its own each time: what two pairs have in common by their names alone makes them no line.
ALTER TABLE lines ALTER COLUMN supplier DROP NOT NULL;
