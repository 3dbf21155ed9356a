import { z } from "zod";
import type { PlannedCandidate, IgnoredFile, CandidateMap } from "#core/candidates/candidate";
import type { Judged } from "#core/candidates/judgeKnown";
import type { Purpose } from "#core/judge/holdsUp";
import { plainJson, plainLine } from "#core/text/plainText";
import { type Db, oneRow } from "#server/db/database";
import { type OnClash, type IntakeRow, type ModelHint } from "#server/intake/queries";
import type { FoundLicence } from "#server/licence/queries";
import type { Fetch, VariantSheet } from "#server/supplier/queries";

/** How an intake is to be read; what is not said has the usual value. */
export interface IntakeOptions {
  onClash?: OnClash;
  purpose?: Purpose;
  itemSeconds?: number;
  itemMib?: number;
  leastMaps?: number;
  leastPixels?: number;
  foundAt?: string;
  expected?: number;
  fetch?: Fetch;
}

export async function insertIntake(db: Db, person: string, options: IntakeOptions): Promise<string> {
  const columns: Record<keyof IntakeOptions, string> = {
    onClash: "on_clash",
    purpose: "purpose",
    itemSeconds: "item_seconds",
    itemMib: "item_mib",
    leastMaps: "least_maps",
    leastPixels: "least_pixels",
    foundAt: "found_at",
    expected: "expected",
    fetch: "ordered",
  };
  const given = (Object.keys(columns) as (keyof IntakeOptions)[]).filter((key) => options[key] !== undefined);
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    `INSERT INTO intakes (person${given.map((key) => `, ${columns[key]}`).join("")})
     VALUES ($1${given.map((_, i) => `, $${i + 2}`).join("")}) RETURNING id`,
    [person, ...given.map((key) => options[key])],
  );
  return row!.id;
}

/** Keeps what came out of an intake beside the files that are studied, and how much came out of its zips. */
export async function setUnpacked(
  db: Db,
  id: string,
  { beside, bytes }: { beside: object | null; bytes?: number },
): Promise<void> {
  await db.query(
    "UPDATE intakes SET unpacked = $2, unpacked_bytes = coalesce($3, unpacked_bytes) WHERE id = $1",
    [id, beside && JSON.stringify(plainJson(beside)), bytes ?? null],
  );
}

/** Begins a stage of a reading with so many steps. */
export async function beginStage(db: Db, id: string, stage: "study" | "judge", steps: number): Promise<void> {
  await db.query(
    `UPDATE intakes SET stage = $2, progress_done = 0, progress_total = $3, progress_what = '', progress_since = now()
      WHERE id = $1`,
    [id, stage, steps],
  );
}

/** Notes that a step of a reading begins. */
export async function noteStep(db: Db, id: string, what: string): Promise<void> {
  await db.query(
    "UPDATE intakes SET progress_done = least(progress_done + 1, progress_total), progress_what = $2 WHERE id = $1",
    [id, what],
  );
}

/** A reading begins from the start, and has come no way yet: how far it arrived says nothing of that. */
export async function setIntakeState(
  db: Db,
  id: string,
  state: IntakeRow["state"],
  failure: string | null = null,
) {
  await db.query(
    `UPDATE intakes SET state = $2, failure = $3,
       progress_done = CASE WHEN $2 = 'reading' THEN 0 ELSE progress_done END,
       progress_total = CASE WHEN $2 = 'reading' THEN 0 ELSE progress_total END,
       progress_what = CASE WHEN $2 = 'reading' THEN '' ELSE progress_what END,
       stage = CASE WHEN $2 = 'reading' THEN 'unpack' ELSE stage END
      WHERE id = $1`,
    [id, state, failure],
  );
}

export async function setIntakeProgress(
  db: Db,
  id: string,
  progress: { done: number; total: number; what: string },
): Promise<void> {
  await db.query(
    "UPDATE intakes SET progress_done = $2, progress_total = $3, progress_what = $4 WHERE id = $1",
    [id, progress.done, progress.total, progress.what],
  );
}

/** Asks the reading to wait, to stop, or to go on; undefined where the intake is not being read. */
export const setHold = (db: Db, id: string, hold: IntakeRow["hold"]) =>
  oneRow(
    db,
    z.object({ before: z.enum(["pause", "stop"]).nullable() }),
    `UPDATE intakes i SET hold = $2 FROM (SELECT id, hold FROM intakes WHERE id = $1 FOR UPDATE) AS old
      WHERE i.id = old.id AND i.state = 'reading' RETURNING old.hold AS before`,
    [id, hold],
  );

/** A map that an answer of before holds for, with what was read of it. */
type ReadMap = CandidateMap & { answered?: { by: string; read: CandidateMap } };

/** A candidate with what the reading knows of where it came from. */
export interface ReadCandidate extends Omit<PlannedCandidate, "maps"> {
  maps: ReadMap[];
  scope: string;
  licence: FoundLicence | null;
  hint: ModelHint | null;
  sheet: VariantSheet | null;
}

/** Takes an intake that is being fetched; undefined where it is not, or was stopped. */
export const lockFetch = (db: Db, id: string) =>
  oneRow(
    db,
    z.object({ id: z.string() }),
    "SELECT id FROM intakes WHERE id = $1 AND state = 'receiving' AND ordered IS NOT NULL FOR UPDATE",
    [id],
  );

/** Takes an intake at the end of a stage, with what came out beside its files; undefined where it is no longer there. */
export const lockReading = (db: Db, id: string, stage: IntakeRow["stage"]) =>
  oneRow(
    db,
    // Written by ourselves.
    z.object({ unpacked: z.custom<object>().nullable() }),
    "SELECT unpacked FROM intakes WHERE id = $1 AND state = 'reading' AND stage = $2 FOR UPDATE",
    [id, stage],
  );

/** Longest sentence about a file: what it quotes of the file has passed the gate as a whole. */
const MOST_SAID = 2000;

/** Writes what an intake recognised in place of what it recognised before, so that reading twice does no harm. */
export async function replaceCandidates(
  db: Db,
  intake: string,
  candidates: ReadCandidate[],
  ignored: IgnoredFile[],
) {
  await db.query("DELETE FROM candidates WHERE intake = $1", [intake]);
  await db.query("DELETE FROM intake_ignored WHERE intake = $1", [intake]);
  for (const [position, candidate] of candidates.entries()) {
    const row = await oneRow(
      db,
      z.object({ id: z.string() }),
      `INSERT INTO candidates (intake, position, name, kind, findings, layout, folder, scope, licence, hint, sheet)
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) RETURNING id`,
      [
        intake,
        position,
        candidate.name.slice(0, 200),
        candidate.kind,
        JSON.stringify(plainJson(candidate.findings)),
        candidate.layout,
        candidate.folder,
        candidate.scope,
        candidate.licence && JSON.stringify(candidate.licence),
        candidate.hint && JSON.stringify(candidate.hint),
        candidate.sheet && JSON.stringify(candidate.sheet),
      ],
    );
    for (const [at, map] of candidate.maps.entries()) await insertCandidateMap(db, row!.id, at, map);
  }
  for (const [position, { file, reason, kind, sha256 }] of ignored.entries())
    await db.query(
      "INSERT INTO intake_ignored (intake, position, file, reason, kind, sha256) VALUES ($1, $2, $3, $4, $5, $6)",
      [intake, position, file, plainLine(reason, MOST_SAID), kind, sha256 ?? null],
    );
}

async function insertCandidateMap(db: Db, candidate: string, position: number, map: ReadMap) {
  const { answered } = map;
  const before = answered && {
    ...{ role: answered.read.role, confidence: answered.read.confidence, answer: null, before: null },
    ...{ direction: answered.read.normalDirection ?? null, leftOut: false },
  };
  await db.query(
    `INSERT INTO candidate_maps
       (candidate, position, file, sha256, channel, role, confidence, normal_direction, likely, left_out, answer, before_answer)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12)`,
    [
      candidate,
      position,
      map.file,
      map.sha256,
      map.channel,
      map.role,
      map.confidence,
      map.normalDirection ?? null,
      map.likely,
      map.leftOut ?? false,
      answered?.by ?? null,
      before ? JSON.stringify(before) : null,
    ],
  );
}

/** Writes what a candidate was judged to be anew; what could not be judged keeps what was said of it. */
export async function replaceJudgement(db: Db, id: string, judged: Judged | undefined): Promise<void> {
  await db.query("UPDATE candidates SET is_stale = false WHERE id = $1", [id]);
  if (!judged) return;
  const { kind, layout, findings, maps } = judged;
  await db.query("UPDATE candidates SET kind = $2, layout = $3, findings = $4 WHERE id = $1", [
    ...[id, kind, layout, JSON.stringify(plainJson(findings))],
  ]);
  for (const [position, map] of maps.entries()) {
    const { rowCount } = await db.query(
      "UPDATE candidate_maps SET position = $3, normal_direction = $4 WHERE candidate = $1 AND file = $2",
      [id, map.file, position, map.normalDirection ?? null],
    );
    if (rowCount === 0) await insertCandidateMap(db, id, position, map);
  }
}

/** Takes a candidate for accepting, so that two people cannot accept it at once; undefined where it is no longer waiting. */
export const lockCandidate = (db: Db, intake: string, id: string) =>
  oneRow(
    db,
    z.object({ id: z.string() }),
    "SELECT id FROM candidates WHERE intake = $1 AND id = $2 AND state = 'waiting' FOR UPDATE",
    [intake, id],
  );

/** Keeps the roles as they were accepted; what was not taken is left without one. */
export async function settleRoles(
  db: Db,
  candidate: string,
  taken: { fileName: string; role: string; normalDirection: string | null }[],
) {
  await db.query("UPDATE candidate_maps SET role = 'unknown' WHERE candidate = $1", [candidate]);
  for (const { fileName, role, normalDirection } of taken)
    await db.query(
      "UPDATE candidate_maps SET role = $3, normal_direction = $4, left_out = false WHERE candidate = $1 AND file = $2",
      [candidate, fileName, role, normalDirection],
    );
}

export async function markAccepted(db: Db, candidate: string, material: string) {
  await db.query("UPDATE candidates SET state = 'accepted', material = $2 WHERE id = $1", [
    candidate,
    material,
  ]);
}
