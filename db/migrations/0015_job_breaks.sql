-- Up Migration

-- How often a job was broken off together with its worker: that is no failure of the job, unless it happens again and again.
CREATE TABLE job_breaks (
  job bigint PRIMARY KEY,
  times integer NOT NULL CHECK (times > 0)
);
