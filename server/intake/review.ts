import { z } from "zod";
import { SHOWN, type Shown } from "#core/candidates/shown";
import { oneRow, rows, type Db } from "#server/db/database";
import { findCandidates, type CandidateRow } from "#server/intake/queries";
import { findingSchema } from "#server/material/queries";
import { variantSheetSchema } from "#server/supplier/queries";

/**
 * Each candidate of intake $1 with what it may be shown for. What it clashes with is asked of the indices for each (`OFFSET 0` keeps
 * them from being read through once for all): candidates are few beside the library.
 */
const REVIEWED = `
  WITH clashing AS MATERIALIZED (
    SELECT c.id FROM candidates c WHERE c.intake = $1 AND c.state = 'waiting' AND (
      EXISTS (SELECT FROM materials m
        WHERE lower(m.name) = lower(c.name) AND m.deleted_at IS NULL AND m.merged_into IS NULL OFFSET 0)
      OR EXISTS (SELECT FROM candidate_maps b JOIN maps a ON a.sha256 = b.sha256 AND a.role = 'base_color'
          JOIN materials m ON m.id = a.material AND m.revision = a.revision AND m.deleted_at IS NULL AND m.merged_into IS NULL
        WHERE b.candidate = c.id AND b.role = 'base_color' OFFSET 0))),
  reviewed AS MATERIALIZED (
    SELECT c.id, c.position, c.name, c.folder, true AS "all", c.state = 'waiting' AS waiting, c.state = 'accepted' AS accepted,
      c.findings @> '[{"level": "wrong"}]' AS wrong,
      c.findings @> '[{"level": "wrong"}]' OR c.findings @> '[{"level": "look"}]' AS look,
      c.state = 'waiting' AND EXISTS (SELECT FROM candidate_maps a WHERE a.candidate = c.id AND a.role = 'unknown') AS asked,
      c.id IN (SELECT id FROM clashing) OR c.findings @> '[{"code": "same-picture"}]' AS clash
    FROM candidates c WHERE c.intake = $1)`;

export interface ReviewFilter {
  shown: Shown;
  /** Words that name, folder or files must all hold. */
  words: string;
  offset: number;
  limit: number;
}

const countsSchema = z.object(
  Object.fromEntries(SHOWN.map((kind) => [kind, z.number()])) as Record<Shown, z.ZodNumber>,
);

/** One page of the candidates of one kind, with how many fit, and how many there are of each kind. */
export async function reviewCandidates(
  db: Db,
  intake: string,
  { shown, words, offset, limit }: ReviewFilter,
): Promise<{ items: CandidateRow[]; total: number; counts: Record<Shown, number> }> {
  const values: unknown[] = [intake];
  const value = (v: unknown) => `$${values.push(v)}`;
  const where = [`"${shown}"`];
  for (const word of words.toLowerCase().split(/\s+/).filter(Boolean).slice(0, 8)) {
    const pattern = value(`%${word.replaceAll(/[\\%_]/g, "\\$&")}%`);
    where.push(`(lower(name || E'\\n' || folder) LIKE ${pattern}
      OR EXISTS (SELECT FROM candidate_maps a WHERE a.candidate = reviewed.id AND lower(a.file) LIKE ${pattern}))`);
  }
  const counts = SHOWN.map((kind) => `'${kind}', count(*) FILTER (WHERE "${kind}")`);
  const row = await oneRow(
    db,
    z.object({ ids: z.array(z.string()), total: z.number(), counts: countsSchema }),
    `${REVIEWED}, fitting AS (SELECT id, position FROM reviewed WHERE ${where.join(" AND ")})
     SELECT ARRAY(SELECT id::text FROM fitting ORDER BY position, id OFFSET ${value(offset)} LIMIT ${value(limit)}) AS ids,
       (SELECT count(*)::int FROM fitting) AS total,
       (SELECT jsonb_build_object(${counts.join(", ")}) FROM reviewed) AS counts`,
    values,
  );
  const { ids, ...counted } = row!;
  return { items: await findCandidates(db, intake, ids), ...counted };
}

/** What so many candidates have in common is told once for all of them. */
const MANY = 5;

/** Findings that most candidates of an intake that wait have in common, the commonest first, each with one of them. */
export const commonFindings = (db: Db, intake: string) =>
  rows(
    db,
    z.object({ count: z.number(), finding: findingSchema }),
    `WITH waiting AS (SELECT id, findings FROM candidates WHERE intake = $1 AND state = 'waiting')
     SELECT count(DISTINCT w.id)::int AS count, (array_agg(f))[1] AS finding
       FROM waiting w, jsonb_array_elements(w.findings) f WHERE f->>'level' <> 'wrong' AND f->>'code' <> 'role-unknown'
      GROUP BY f->>'code'
     HAVING count(DISTINCT w.id) >= greatest(${MANY}, (SELECT count(*) FROM waiting) / 2)
      ORDER BY 1 DESC, f->>'code'`,
    [intake],
  );

export interface WaitingFolder {
  folder: string;
  scope: string;
  count: number;
}

/** Where the candidates that wait came from, for planning collections, and what the first of them would be named from. */
export async function waitingFolders(db: Db, intake: string) {
  const folders: WaitingFolder[] = await rows(
    db,
    z.object({ folder: z.string(), scope: z.string(), count: z.number() }),
    `SELECT folder, scope, count(*)::int AS count FROM candidates WHERE intake = $1 AND state = 'waiting'
      GROUP BY folder, scope ORDER BY min(position)`,
    [intake],
  );
  const first = await oneRow(
    db,
    z.object({ name: z.string(), folder: z.string(), sheet: variantSheetSchema.nullable() }),
    "SELECT name, folder, sheet FROM candidates WHERE intake = $1 AND state = 'waiting' ORDER BY position, id LIMIT 1",
    [intake],
  );
  return { folders, first: first ?? null };
}
