import { commonName } from "#core/library/commonName";
import type { Person } from "#server/auth/person";
import { type Db, inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { materialsOfPair, type Decision } from "#server/likeness/queries";
import { joinLine, leaveLine, updateDecision } from "#server/likeness/writes";
import { notFound } from "#server/problem";
import { findOrInsertLine, insertLine } from "#server/supplier/writes";

export interface Decided {
  /** The materials of both pictures, where both are in the library. */
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
  const line = known ?? (await newLine(db, materials));
  await joinLine(
    db,
    pair,
    line,
    free.map(({ id }) => id),
  );
  return line;
}

function newLine(db: Db, [first, second]: Awaited<ReturnType<typeof materialsOfPair>>): Promise<string> {
  const name = commonName(first.name, second.name) || first.name;
  const supplier = first.supplier ?? second.supplier;
  return supplier === null ? insertLine(db, name) : findOrInsertLine(db, supplier, name);
}
