import { commonName } from "#core/library/commonName";
import type { Person } from "#server/auth/person";
import { type Db, inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { materialsOfPair, type Decision } from "#server/likeness/queries";
import { joinLine, leaveLine, updateDecision } from "#server/likeness/writes";
import { notFound } from "#server/problem";
import { findOrInsertLine, insertLine } from "#server/supplier/writes";

export interface Decided {
  /** A material of each picture, where both are in the library; else none. */
  materials: { id: string; name: string }[];
  /** The line that variants are in now; null where there is none. */
  line: string | null;
}

/**
 * Decides once what a pair is; null takes the decision back. Variants come into one line, of the supplier of either where one is known,
 * and leave it again when somebody decides otherwise. @throws {Problem} where there is no such pair
 */
export function decideLikeness(
  pair: { first: string; second: string },
  decision: Decision | null,
  person: Person,
): Promise<Decided> {
  return inTransaction(async (db) => {
    if (!(await updateDecision(db, pair, decision, person.id))) throw notFound("pair");
    await leaveLine(db, pair);
    const all = await materialsOfPair(db, pair);
    const sides = [true, false].flatMap((side) => all.find(({ isFirst }) => isFirst === side) ?? []);
    const [one, other] = sides;
    // Where one of the two still waits, it becomes a variant of nothing yet.
    if (!one || !other) return { materials: [], line: null };
    const line =
      decision === "variant" ? await intoOneLine(db, pair, all, commonName(one.name, other.name)) : null;
    if (line !== null) await announce(db, { topic: "library", id: one.id });
    return { materials: sides.map(({ id, name }) => ({ id, name })), line };
  });
}

/** @returns the line that all are in now; null where they are in several */
async function intoOneLine(
  db: Db,
  pair: { first: string; second: string },
  materials: Awaited<ReturnType<typeof materialsOfPair>>,
  shared: string,
): Promise<string | null> {
  const free = materials.filter(({ line }) => line === null).map(({ id }) => id);
  const lines = new Set(materials.flatMap(({ line }) => line ?? []));
  // Of two lines neither is the right one.
  if (lines.size > 1) return null;
  const [known] = lines;
  if (free.length === 0) return known;
  const name = shared || materials[0].name;
  const supplier = materials.find(({ supplier }) => supplier !== null)?.supplier;
  const line = known ?? (supplier ? await findOrInsertLine(db, supplier, name) : await insertLine(db, name));
  await joinLine(db, pair, line, free);
  return line;
}
