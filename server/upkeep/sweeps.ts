import { z } from "zod";
import { oneRow, type Db } from "#server/db/database";
import type { Orphan } from "#server/upkeep/findOrphans";

const sweepSchema = z.object({
  id: z.string(),
  asked_at: z.date(),
  found: z.custom<Orphan[]>().nullable(),
  agreed_at: z.date().nullable(),
  removed: z.object({ files: z.number(), bytes: z.number() }).nullable(),
  failure: z.string().nullable(),
});
export type SweepRow = z.infer<typeof sweepSchema>;

const COLUMNS = "id, asked_at, found, agreed_at, removed, failure";

export async function insertSweep(db: Db, person: string): Promise<string> {
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    "INSERT INTO sweeps (person) VALUES ($1) RETURNING id",
    [person],
  );
  return row!.id;
}

export const findSweep = (db: Db, id: string) =>
  oneRow(db, sweepSchema, `SELECT ${COLUMNS} FROM sweeps WHERE id = $1`, [id]);

export const newestSweep = (db: Db) =>
  oneRow(db, sweepSchema, `SELECT ${COLUMNS} FROM sweeps ORDER BY asked_at DESC LIMIT 1`);

export async function setFound(db: Db, id: string, found: Orphan[]): Promise<void> {
  await db.query("UPDATE sweeps SET found = $2 WHERE id = $1", [id, JSON.stringify(found)]);
}

/** @returns whether it was looked for, and nobody had agreed yet */
export async function agreeToSweep(db: Db, id: string): Promise<boolean> {
  const { rowCount } = await db.query(
    "UPDATE sweeps SET agreed_at = now() WHERE id = $1 AND found IS NOT NULL AND agreed_at IS NULL",
    [id],
  );
  return rowCount === 1;
}

export async function setRemoved(
  db: Db,
  id: string,
  removed: { files: number; bytes: number },
): Promise<void> {
  await db.query("UPDATE sweeps SET removed = $2 WHERE id = $1", [id, removed]);
}

export async function failSweep(db: Db, id: string, failure: string): Promise<void> {
  await db.query("UPDATE sweeps SET failure = $2 WHERE id = $1", [id, failure]);
}
