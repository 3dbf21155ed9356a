-- Up Migration
-- Which patches lie where on a card: a picture is read by the layout that it was painted by. The version before paints the first.
ALTER TABLE test_cards ADD COLUMN layout smallint NOT NULL DEFAULT 1 CHECK (layout > 0);
