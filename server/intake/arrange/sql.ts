import { z } from "zod";
import { oneRow, rows, type Db } from "#server/db/database";

/** Candidates and their maps as they lie in the database. */
export type Snapshot = Record<"candidates" | "maps", object[]>;

/** @returns all that has to be there again where a move is undone */
export async function snapshotOf(db: Db, candidates: string[]): Promise<Snapshot> {
  const row = await oneRow(
    db,
    z.object({ candidates: z.array(z.custom<object>()), maps: z.array(z.custom<object>()) }),
    `SELECT (SELECT coalesce(jsonb_agg(to_jsonb(c)), '[]') FROM candidates c WHERE c.id = ANY ($1)) AS candidates,
       (SELECT coalesce(jsonb_agg(to_jsonb(m)), '[]') FROM candidate_maps m WHERE m.candidate = ANY ($1)) AS maps`,
    [candidates],
  );
  return row!;
}

/** Puts candidates there again as they were, in place of those that came of them. They are judged anew. */
export async function putBack(db: Db, { candidates, maps }: Snapshot, touched: string[]): Promise<void> {
  await db.query("DELETE FROM candidates WHERE id = ANY ($1)", [touched]);
  await db.query("INSERT INTO candidates SELECT * FROM jsonb_populate_recordset(NULL::candidates, $1)", [
    JSON.stringify(candidates),
  ]);
  await db.query(
    "INSERT INTO candidate_maps SELECT * FROM jsonb_populate_recordset(NULL::candidate_maps, $1)",
    [JSON.stringify(maps)],
  );
}

/** How the files of candidates lie, and what they are taken for: the same text where nothing was changed. */
export async function layOf(db: Db, candidates: string[]): Promise<string> {
  const row = await oneRow(
    db,
    z.object({ lay: z.string() }),
    `SELECT coalesce(md5(string_agg(concat_ws(E'\\n', c.id, c.state, m.file, m.role, m.left_out, m.answer), E'\\n\\n' ORDER BY c.id, m.file)), '') AS lay
       FROM candidates c LEFT JOIN candidate_maps m ON m.candidate = c.id AND m.channel = 'color' WHERE c.id = ANY ($1)`,
    [candidates],
  );
  return row!.lay;
}

/** A candidate that begins with files of another one, beside which it stands. */
export async function insertBeside(db: Db, candidate: string, name: string): Promise<string> {
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    `INSERT INTO candidates (intake, position, name, kind, findings, layout, folder, scope, licence, on_clash)
     SELECT intake, position, $2, 'material', '[]', 'repeating', folder, scope, licence, on_clash FROM candidates WHERE id = $1
     RETURNING id`,
    [candidate, name.slice(0, 200)],
  );
  return row!.id;
}

interface MovedRow {
  file: string;
  role: string;
  likely: string[];
  leftOut?: boolean;
  confidence: number;
}

/** Puts maps of one candidate into another one. */
export async function moveRows(db: Db, from: string, to: string, maps: MovedRow[]): Promise<void> {
  for (const { file, role, likely, leftOut, confidence } of maps)
    await db.query(
      `UPDATE candidate_maps SET candidate = $2, role = $4, likely = $5, left_out = $6, confidence = $7,
         -- What was answered where it lay before is asked anew where it does not fit.
         answer = CASE WHEN role = $4 THEN answer END, before_answer = CASE WHEN role = $4 THEN before_answer END,
         position = (SELECT coalesce(max(position), 0) + 1 FROM candidate_maps WHERE candidate = $2)
        WHERE candidate = $1 AND file = $3`,
      [from, to, file, role, likely, leftOut ?? false, confidence],
    );
}

/** Takes maps out of a candidate, and says where they went. */
export async function takeRowsOut(
  db: Db,
  {
    intake,
    candidate,
    files,
    reason,
  }: { intake: string; candidate: string; files: string[]; reason: string },
): Promise<void> {
  await db.query(
    `INSERT INTO intake_ignored (intake, position, file, reason, kind, sha256)
     SELECT $1, (SELECT coalesce(max(position), 0) FROM intake_ignored WHERE intake = $1) + row_number() OVER (ORDER BY m.file),
       m.file, $4, 'left-aside', m.sha256
       FROM candidate_maps m WHERE m.candidate = $2 AND m.file = ANY ($3)`,
    [intake, candidate, files, reason],
  );
  await db.query("DELETE FROM candidate_maps WHERE candidate = $1 AND file = ANY ($2)", [candidate, files]);
}

/** What is moved again is no longer said to have been left aside. */
export const forgetTakenOut = (db: Db, intake: string, files: string[], reason: string) =>
  db.query("DELETE FROM intake_ignored WHERE intake = $1 AND file = ANY ($2) AND reason = $3", [
    ...[intake, files, reason],
  ]);

/** Deletes candidates that have no maps left, and has the others judged anew. */
export async function settleTouched(db: Db, candidates: string[]): Promise<void> {
  await db.query(
    "DELETE FROM candidates c WHERE id = ANY ($1) AND NOT EXISTS (SELECT FROM candidate_maps WHERE candidate = c.id)",
    [candidates],
  );
  await db.query("UPDATE candidates SET is_stale = true WHERE id = ANY ($1)", [candidates]);
}

export interface NewMove {
  intake: string;
  said: string;
  before: Snapshot;
  touched: string[];
  leftAs: string;
  material: { id: string; before: number; after: number } | null;
  person: string;
}

export async function insertMove(db: Db, move: NewMove): Promise<string> {
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    `INSERT INTO moves (intake, said, before, touched, left_as, material, revision_before, revision_after, made_by)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9) RETURNING id`,
    [
      ...[move.intake, move.said, JSON.stringify(move.before), move.touched, move.leftAs],
      ...[
        move.material?.id ?? null,
        move.material?.before ?? null,
        move.material?.after ?? null,
        move.person,
      ],
    ],
  );
  return row!.id;
}

/** A move that was not undone, held until the transaction ends. */
export const lockMove = (db: Db, id: string) =>
  oneRow(
    db,
    z.object({
      intake: z.string(),
      said: z.string(),
      // Written by ourselves.
      before: z.custom<Snapshot>(),
      touched: z.array(z.string()),
      leftAs: z.string(),
      material: z.string().nullable(),
      revisionBefore: z.number().nullable(),
      revisionAfter: z.number().nullable(),
    }),
    `SELECT intake, said, before, touched, left_as AS "leftAs", material, revision_before AS "revisionBefore", revision_after AS "revisionAfter"
       FROM moves WHERE id = $1 AND undone_at IS NULL FOR UPDATE`,
    [id],
  );

export const markUndone = (db: Db, id: string) =>
  db.query("UPDATE moves SET undone_at = now() WHERE id = $1", [id]);

const moveSchema = z.object({ id: z.string(), said: z.string(), by: z.string() });

/** What was moved in an intake, the newest first. */
export const listMoves = (db: Db, intake: string, limit: number) =>
  rows(
    db,
    moveSchema,
    `SELECT m.id, m.said, p.name AS by FROM moves m JOIN people p ON p.id = m.made_by
      WHERE m.intake = $1 AND m.undone_at IS NULL ORDER BY m.made_at DESC, m.id LIMIT $2`,
    [intake, limit],
  );
