import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { notFound } from "#server/problem";
import type { Decision } from "#server/likeness/queries";
import { updateDecision } from "#server/likeness/writes";

/** Decides once what a pair is; null takes the decision back. @throws {Problem} where there is no such pair */
export async function decideLikeness(
  pair: { first: string; second: string },
  decision: Decision | null,
  person: Person,
): Promise<void> {
  if (!(await updateDecision(database(), pair, decision, person.id))) throw notFound("pair");
}
