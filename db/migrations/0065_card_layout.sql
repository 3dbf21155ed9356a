-- Up Migration
-- Which patches lie where on a card: a picture is read by the layout that it was painted by.
ALTER TABLE test_cards ADD COLUMN layout smallint NOT NULL DEFAULT 1 CHECK (layout > 0);
ALTER TABLE test_cards ALTER COLUMN layout DROP DEFAULT;
