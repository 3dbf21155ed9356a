import { commonName } from "#core/library/commonName";
import type { Person } from "#server/auth/person";
import { type Db, inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { materialsOfPair, type Decision } from "#server/likeness/queries";
import { joinLine, leaveLine, updateDecision } from "#server/likeness/writes";
import { notFound } from "#server/problem";
import { findOrInsertLine } from "#server/supplier/writes";

export interface Decided {
  /** The materials of both pictures, where both are in the library. */
  materials: { id: string; name: string }[];
  /** The line that variants are in now; null where there is none. */
  line: string | null;
}

/**
 * Decides once what a pair is; null takes the decision back. Variants come into one line, where a supplier of either is known, and
 * leave it again when somebody decides otherwise. @throws {Problem} where there is no such pair
 */
export function decideLikeness(
  pair: { first: string; second: string },
  decision: Decision | null,
  person: Person,
): Promise<Decided> {
  return inTransaction(async (db) => {
    if (!(await updateDecision(db, pair, decision, person.id))) throw notFound("pair");
    await leaveLine(db, pair);
    const line = decision === "variant" ? await intoOneLine(db, pair) : null;
    const materials = await materialsOfPair(db, pair);
    if (line !== null) await announce(db, { topic: "library", id: materials[0].id });
    return { materials: materials.map(({ id, name }) => ({ id, name })), line };
  });
}

/** @returns the line that both are in now */
async function intoOneLine(db: Db, pair: { first: string; second: string }): Promise<string | null> {
  const materials = await materialsOfPair(db, pair);
  if (materials.length < 2) return null;
  const free = materials.filter(({ line }) => line === null);
  const lines = new Set(materials.flatMap(({ line }) => line ?? []));
  // Of two lines neither is the right one.
  if (lines.size > 1) return null;
  const [known] = lines;
  if (free.length === 0) return known;
  const supplier = materials.find(({ supplier }) => supplier !== null)?.supplier;
  if (known === undefined && !supplier) return null;
  const name = commonName(materials[0].name, materials[1].name) || materials[0].name;
  const line = known ?? (await findOrInsertLine(db, supplier!, name));
  await joinLine(
    db,
    pair,
    line,
    free.map(({ id }) => id),
  );
  return line;
}
