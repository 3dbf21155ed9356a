-- A worker takes jobs by more than one hand: one of them is left for what somebody waits for. Its hands have a row each; it is
-- one worker all the same.
ALTER TABLE workers ADD COLUMN process text;
