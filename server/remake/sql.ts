import { z } from "zod";
import type { Finding } from "#core/findings/finding";
import { plainJson } from "#core/text/plainText";
import { ROLES } from "#core/roles/roles";
import { findingSchema } from "#server/material/queries";
import { MAP_CHANNELS } from "#core/roles/channel";
import { UNDO_DAYS } from "#server/change/queries";
import { type Db, oneRow, rows } from "#server/db/database";

export const remakeSchema = z.object({
  id: z.string(),
  madeAt: z.coerce.date(),
  madeBy: z.string(),
  doneAt: z.coerce.date().nullable(),
  /** Whether the files are read anew, and the materials judged by that. */
  judges: z.boolean(),
  materials: z.number().int(),
  judged: z.number().int(),
  /** Those of which something else is said now. */
  otherwise: z.array(
    z.object({
      material: z.object({ id: z.string(), name: z.string() }),
      came: z.array(findingSchema),
      went: z.array(findingSchema),
    }),
  ),
  /** Those that were left as they were. */
  notJudged: z.array(
    z.object({ material: z.object({ id: z.string(), name: z.string() }), reason: z.string() }),
  ),
  failure: z.string().nullable(),
  stoppedBy: z.string().nullable(),
  undoneAt: z.coerce.date().nullable(),
  /** Whether what is said otherwise can be put back as it was. */
  mayUndo: z.boolean(),
  total: z.number().int(),
  made: z.number().int(),
  failed: z.array(
    z.object({
      fileName: z.string(),
      reason: z.string(),
      material: z.object({ id: z.string(), name: z.string() }),
    }),
  ),
});
export type Remake = z.infer<typeof remakeSchema>;

const MOST_FAILED = 200;
const MOST_OTHERWISE = 200;

const REMAKE = `SELECT r.id, r.made_at AS "madeAt", p.name AS "madeBy", r.done_at AS "doneAt", r.failure, r.judges, t.name AS "stoppedBy", r.undone_at AS "undoneAt",
    (r.done_at > now() - interval '${UNDO_DAYS} days' AND r.undone_at IS NULL
      AND EXISTS (SELECT FROM remake_materials i WHERE i.remake = r.id AND i.before IS NOT NULL)) IS TRUE AS "mayUndo",
    (SELECT count(*)::int FROM remake_items i WHERE i.remake = r.id) AS total,
    (SELECT count(*)::int FROM remake_items i WHERE i.remake = r.id AND i.state = 'made') AS made,
    COALESCE((SELECT jsonb_agg(jsonb_build_object('fileName', file_name, 'reason', reason, 'material', jsonb_build_object('id', id, 'name', name))) FROM (
      SELECT DISTINCT ON (lower(m.name), m.id, i.sha256) a.file_name, i.reason, m.id, m.name FROM remake_items i
        JOIN maps a ON a.sha256 = i.sha256 AND a.channel = i.channel JOIN materials m ON m.id = a.material AND m.revision = a.revision
       WHERE i.remake = r.id AND i.state = 'failed' AND m.deleted_at IS NULL ORDER BY lower(m.name), m.id, i.sha256 LIMIT ${MOST_FAILED}) each), '[]') AS failed,
    (SELECT count(*)::int FROM remake_materials i WHERE i.remake = r.id) AS materials,
    (SELECT count(*)::int FROM remake_materials i WHERE i.remake = r.id AND i.is_judged AND i.reason IS NULL) AS judged,
    COALESCE((SELECT jsonb_agg(jsonb_build_object('material', jsonb_build_object('id', id, 'name', name), 'came', came, 'went', went)) FROM (
      SELECT m.id, m.name, i.came, i.went FROM remake_materials i JOIN materials m ON m.id = i.material
       WHERE i.remake = r.id AND m.deleted_at IS NULL AND (i.came <> '[]' OR i.went <> '[]')
       ORDER BY lower(m.name), m.id LIMIT ${MOST_OTHERWISE}) each), '[]') AS otherwise,
    COALESCE((SELECT jsonb_agg(jsonb_build_object('material', jsonb_build_object('id', id, 'name', name), 'reason', reason)) FROM (
      SELECT m.id, m.name, i.reason FROM remake_materials i JOIN materials m ON m.id = i.material
       WHERE i.remake = r.id AND m.deleted_at IS NULL AND i.reason IS NOT NULL
       ORDER BY lower(m.name), m.id LIMIT ${MOST_OTHERWISE}) each), '[]') AS "notJudged"
  FROM remakes r JOIN people p ON p.id = r.made_by LEFT JOIN people t ON t.id = r.stopped_by`;

export const findRemake = (db: Db, id: string): Promise<Remake | undefined> =>
  oneRow(db, remakeSchema, `${REMAKE} WHERE r.id = $1`, [id]);

export const newestRemake = (db: Db): Promise<Remake | undefined> =>
  oneRow(db, remakeSchema, `${REMAKE} ORDER BY r.made_at DESC LIMIT 1`);

/** @param materials undefined: of all living ones. @returns its id, and of how many pictures it is */
export async function insertRemake(
  db: Db,
  materials: string[] | undefined,
  judges: boolean,
  person: string,
): Promise<{ id: string; total: number }> {
  const made = await oneRow(
    db,
    z.object({ id: z.string() }),
    "INSERT INTO remakes (made_by, judges) VALUES ($1, $2) RETURNING id",
    [person, judges],
  );
  const { rowCount } = await db.query(
    `INSERT INTO remake_items (remake, sha256, channel)
     SELECT DISTINCT $1::uuid, a.sha256, a.channel FROM maps a JOIN materials m ON m.id = a.material AND m.revision = a.revision
      WHERE m.deleted_at IS NULL AND ($2::uuid[] IS NULL OR m.id = ANY ($2))`,
    [made!.id, materials ?? null],
  );
  if (judges)
    await db.query(
      `INSERT INTO remake_materials (remake, material)
       SELECT $1, m.id FROM materials m WHERE m.deleted_at IS NULL AND ($2::uuid[] IS NULL OR m.id = ANY ($2))
          AND EXISTS (SELECT FROM maps a WHERE a.material = m.id AND a.revision = m.revision)`,
      [made!.id, materials ?? null],
    );
  return { id: made!.id, total: rowCount ?? 0 };
}

/** The next materials of a run that are to be judged. */
export async function nextToJudge(db: Db, remake: string, most: number): Promise<string[]> {
  const found = await rows(
    db,
    z.object({ material: z.string() }),
    "SELECT material FROM remake_materials WHERE remake = $1 AND NOT is_judged ORDER BY material LIMIT $2",
    [remake, most],
  );
  return found.map(({ material }) => material);
}

/** How a material was judged. */
export interface Judgement {
  /** What is said of it otherwise. */
  came: Finding[];
  went: Finding[];
  /** Of which revision, and all that was and is said of it; null where nothing is said otherwise. */
  replaced: { revision: number; before: Finding[]; after: Finding[] } | null;
  /** Why it was left as it was, if it was. */
  reason: string | null;
}

export async function noteJudged(
  db: Db,
  remake: string,
  material: string,
  { came, went, replaced, reason }: Judgement,
): Promise<void> {
  const json = (findings: Finding[] | undefined) => findings && JSON.stringify(plainJson(findings));
  await db.query(
    `UPDATE remake_materials SET is_judged = true, came = $3, went = $4, reason = $5, revision = $6, before = $7, after = $8
      WHERE remake = $1 AND material = $2`,
    [
      ...[remake, material, json(came), json(went), reason],
      ...[replaced?.revision ?? null, json(replaced?.before) ?? null, json(replaced?.after) ?? null],
    ],
  );
}

const itemSchema = z.object({
  sha256: z.string(),
  channel: z.enum(MAP_CHANNELS),
  /** What it is taken for by the materials that have it. */
  roles: z.array(z.enum(ROLES)),
  /** Of the channels of its file: the file is read with it. */
  isFirst: z.boolean(),
});
export type RemakeItem = z.infer<typeof itemSchema>;

/** The next pictures of a run, in the order of their hashes. */
export const nextItems = (db: Db, remake: string, most: number) =>
  rows(
    db,
    itemSchema,
    `SELECT sha256, channel, ARRAY(SELECT DISTINCT a.role FROM maps a JOIN materials m ON m.id = a.material AND m.revision = a.revision
        WHERE a.sha256 = i.sha256 AND a.channel = i.channel AND m.deleted_at IS NULL) AS roles,
       NOT EXISTS (SELECT FROM remake_items o WHERE o.remake = i.remake AND o.sha256 = i.sha256 AND o.channel < i.channel) AS "isFirst"
       FROM remake_items i WHERE remake = $1 AND state = 'waiting' ORDER BY sha256, channel LIMIT $2`,
    [remake, most],
  );

/** @param reason null where it was made */
export async function noteRemade(
  db: Db,
  remake: string,
  { sha256, channel }: Pick<RemakeItem, "sha256" | "channel">,
  reason: string | null,
): Promise<void> {
  await db.query(
    "UPDATE remake_items SET state = $4, reason = $5 WHERE remake = $1 AND sha256 = $2 AND channel = $3",
    [remake, sha256, channel, reason === null ? "made" : "failed", reason],
  );
}

/** Ends a run, unless it has ended. @param stoppedBy who stopped it, if anybody. @returns whether it went on */
export async function endRemake(
  db: Db,
  id: string,
  { failure = null, stoppedBy = null }: { failure?: string | null; stoppedBy?: string | null } = {},
): Promise<boolean> {
  const ended = await db.query(
    "UPDATE remakes SET done_at = now(), failure = $2, stopped_by = $3 WHERE id = $1 AND done_at IS NULL",
    [id, failure, stoppedBy],
  );
  return ended.rowCount === 1;
}

/** Whether a run goes on; it does not end before the transaction that asks. */
export const isGoing = async (db: Db, id: string): Promise<boolean> =>
  (await db.query("SELECT FROM remakes WHERE id = $1 AND done_at IS NULL FOR SHARE", [id])).rowCount === 1;

/** Says again of each material what was said before it was judged; not of one of which something else is said by now. @returns of how many */
export async function putBackFindings(db: Db, id: string): Promise<number> {
  const put = await db.query(
    `UPDATE revisions r SET findings = i.before FROM remake_materials i JOIN materials m ON m.id = i.material
      WHERE i.remake = $1 AND r.material = i.material AND r.number = i.revision AND m.revision = i.revision AND r.findings = i.after`,
    [id],
  );
  await db.query("UPDATE remakes SET undone_at = now() WHERE id = $1", [id]);
  return put.rowCount ?? 0;
}
