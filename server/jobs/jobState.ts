/** What has become of a job: it made something, says why not, or is not over. */
export const jobState = (made: unknown, failure: string | null) =>
  failure !== null ? "failed" : made !== null ? "done" : "running";
