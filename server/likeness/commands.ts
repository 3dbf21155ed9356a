import { commonName } from "#core/library/commonName";
import type { Person } from "#server/auth/person";
import { type Db, inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { materialsOfPair, type Decision } from "#server/likeness/queries";
import { joinLine, leaveLine, updateDecision } from "#server/likeness/writes";
import { notFound } from "#server/problem";
import { findOrInsertLine } from "#server/supplier/writes";

/**
 * Decides once what a pair is; null takes the decision back. Variants come into one line, where a supplier of either is known, and
 * leave it again when somebody decides otherwise. @throws {Problem} where there is no such pair
 */
export function decideLikeness(
  pair: { first: string; second: string },
  decision: Decision | null,
  person: Person,
): Promise<void> {
  return inTransaction(async (db) => {
    if (!(await updateDecision(db, pair, decision, person.id))) throw notFound("pair");
    await leaveLine(db, pair);
    const lined = decision === "variant" ? await intoOneLine(db, pair) : [];
    if (lined.length > 0) await announce(db, { topic: "library", id: lined[0] });
  });
}

/** @returns the materials that came into a line in which they were not */
async function intoOneLine(db: Db, pair: { first: string; second: string }): Promise<string[]> {
  const materials = await materialsOfPair(db, pair);
  const free = materials.filter(({ line }) => line === null);
  if (materials.length < 2 || free.length === 0) return [];
  const lines = new Set(materials.flatMap(({ line }) => line ?? []));
  // Of two lines neither is the right one.
  if (lines.size > 1) return [];
  const [known] = lines;
  const supplier = materials.find(({ supplier }) => supplier !== null)?.supplier;
  if (known === undefined && !supplier) return [];
  const name = commonName(materials[0].name, materials[1].name) || materials[0].name;
  const line = known ?? (await findOrInsertLine(db, supplier!, name));
  const ids = free.map(({ id }) => id);
  await joinLine(db, pair, line, ids);
  return ids;
}
