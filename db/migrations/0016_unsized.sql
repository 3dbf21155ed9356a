-- Up Migration

-- What has no size yet is looked for all the time, and is the smaller part.
CREATE INDEX revisions_unsized ON revisions (material, number) WHERE size_state = 'unknown';
