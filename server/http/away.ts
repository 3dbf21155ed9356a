import { isDatabaseAway } from "#server/ownFault";
import { Problem } from "#server/problem";

/** How soon somebody may try again while the database is away, in seconds. */
export const RETRY_AFTER = "5";

/** What is said while PostgreSQL does not answer; undefined for any other error. */
export function awayProblem(error: unknown): Problem | undefined {
  return isDatabaseAway(error)
    ? new Problem(
        503,
        "Not just now",
        "The database does not answer just now. Try again in a few seconds; nothing is lost.",
      )
    : undefined;
}
