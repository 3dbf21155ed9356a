import { z } from "zod";
import { type Db, oneRow, rows } from "#server/db/database";

export const FINDING_STATES = ["missing", "changed", "foreign"] as const;

export const findingSchema = z.object({
  path: z.string(),
  state: z.enum(FINDING_STATES),
  /** Written again since. */
  isWritten: z.boolean(),
  /** What it is a file of, where that is known. */
  material: z.object({ id: z.string(), name: z.string() }).nullable(),
});
export type FindingRow = z.infer<typeof findingSchema>;

export const checkSchema = z.object({
  id: z.string(),
  destination: z.string(),
  mends: z.boolean(),
  state: z.enum(["looking", "done", "failed"]),
  failure: z.string().nullable(),
  /** Of ours: how many should lie there, and were looked at. */
  files: z.number().int(),
  lookedAt: z.number().int(),
  missing: z.number().int(),
  changed: z.number().int(),
  written: z.number().int(),
  /** Of somebody else's, whether or not they are among the findings. */
  foreign: z.number().int(),
  askedBy: z.string(),
  askedAt: z.coerce.date(),
  endedAt: z.coerce.date().nullable(),
});
export type CheckRow = z.infer<typeof checkSchema>;

const CHECK = `
  SELECT c.id, c.destination, c.mends, c.state, c.failure, c.files, c.looked_at AS "lookedAt", c.foreign_files AS "foreign",
    f.missing, f.changed, f.written, p.name AS "askedBy", c.asked_at AS "askedAt", c.ended_at AS "endedAt"
  FROM destination_checks c JOIN people p ON p.id = c.person
  CROSS JOIN LATERAL (
    SELECT count(*) FILTER (WHERE state = 'missing')::int AS missing, count(*) FILTER (WHERE state = 'changed')::int AS changed,
      count(*) FILTER (WHERE is_written)::int AS written
    FROM destination_findings WHERE check_run = c.id) f`;

export const findCheck = (db: Db, id: string): Promise<CheckRow | undefined> =>
  oneRow(db, checkSchema, `${CHECK} WHERE c.id = $1`, [id]);

export const lastCheck = (db: Db, destination: string): Promise<CheckRow | undefined> =>
  oneRow(db, checkSchema, `${CHECK} WHERE c.destination = $1`, [destination]);

/** Of one state, by path. A file is a material's by how both are called. */
export const listFindings = (
  db: Db,
  check: string,
  state: FindingRow["state"],
  most: number,
): Promise<FindingRow[]> =>
  rows(
    db,
    findingSchema,
    `SELECT f.path, f.state, f.is_written AS "isWritten", m.material
       FROM destination_findings f JOIN destination_checks c ON c.id = f.check_run
       LEFT JOIN destination_files df ON df.destination = c.destination AND df.path = f.path
       LEFT JOIN LATERAL (
         SELECT jsonb_build_object('id', m.id, 'name', m.name) AS material
           FROM delivery_materials dm JOIN materials m ON m.id = dm.material
          WHERE dm.delivery = df.delivery AND position(m.file_name IN f.path) > 0
          ORDER BY length(m.file_name) DESC LIMIT 1) m ON true
      WHERE f.check_run = $1 AND f.state = $2 ORDER BY f.path COLLATE "C" LIMIT $3`,
    [check, state, most],
  );

/** In place of the one before. @returns nothing where one goes on */
export async function insertCheck(
  db: Db,
  check: { destination: string; person: string; mends: boolean },
): Promise<string | undefined> {
  await db.query("DELETE FROM destination_checks WHERE destination = $1 AND state <> 'looking'", [
    check.destination,
  ]);
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    `INSERT INTO destination_checks (destination, person, mends) VALUES ($1, $2, $3)
     ON CONFLICT (destination) DO NOTHING RETURNING id`,
    [check.destination, check.person, check.mends],
  );
  return row?.id;
}

const deliveredSchema = z.object({ path: z.string(), sha256: z.string() });
export type Delivered = z.infer<typeof deliveredSchema>;

/** All that deliveries have put to a destination, and that should lie there. */
export const listDelivered = (db: Db, destination: string): Promise<Delivered[]> =>
  rows(
    db,
    deliveredSchema,
    `SELECT path, sha256 FROM destination_files WHERE destination = $1 ORDER BY path COLLATE "C"`,
    [destination],
  );

/** Begins anew what may have been broken off. */
export async function beginCheck(db: Db, id: string, files: number): Promise<void> {
  await db.query("DELETE FROM destination_findings WHERE check_run = $1", [id]);
  await db.query("UPDATE destination_checks SET files = $2, looked_at = 0, foreign_files = 0 WHERE id = $1", [
    id,
    files,
  ]);
}

export type Finding = Pick<FindingRow, "path" | "state" | "isWritten">;

/** @param lookedAt how many of ours so far @param foreign how many of others' in all */
export async function keepFindings(
  db: Db,
  id: string,
  { findings, lookedAt, foreign }: { findings: Finding[]; lookedAt: number; foreign: number },
): Promise<void> {
  await db.query(
    `INSERT INTO destination_findings (check_run, path, state, is_written)
     SELECT $1, path, state, "isWritten" FROM jsonb_to_recordset($2) AS f (path text, state text, "isWritten" boolean)
     ON CONFLICT (check_run, path) DO NOTHING`,
    [id, JSON.stringify(findings)],
  );
  await db.query("UPDATE destination_checks SET looked_at = $2, foreign_files = $3 WHERE id = $1", [
    id,
    lookedAt,
    foreign,
  ]);
}

export async function endCheck(db: Db, id: string, failure: string | null): Promise<void> {
  await db.query(
    `UPDATE destination_checks SET state = CASE WHEN $2::text IS NULL THEN 'done' ELSE 'failed' END, failure = $2, ended_at = now()
      WHERE id = $1 AND state = 'looking'`,
    [id, failure],
  );
}
