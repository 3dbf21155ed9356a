import { z } from "zod";
import type { CandidateMap, IgnoredFile, PlannedCandidate } from "#core/maps/planCandidates";
import { ROLES } from "#core/maps/roles";
import { oneRow, rows, type Db } from "#server/db/database";
import { findingSchema } from "#server/db/materials";

export const INTAKE_STATES = ["receiving", "reading", "review", "accepted", "failed"] as const;
export const ON_CLASH = ["skip", "replace", "keep-both"] as const;
export type OnClash = (typeof ON_CLASH)[number];

const intakeSchema = z.object({
  id: z.string(),
  state: z.enum(INTAKE_STATES),
  onClash: z.enum(ON_CLASH),
  person: z.string(),
  createdAt: z.date(),
  failure: z.string().nullable(),
  progress: z.object({ done: z.number(), total: z.number(), what: z.string() }),
  uploads: z.array(z.string()),
  waiting: z.number(),
  accepted: z.number(),
});
export type IntakeRow = z.infer<typeof intakeSchema>;

const INTAKE = `
  SELECT i.id, i.state, i.on_clash AS "onClash", p.name AS person, i.created_at AS "createdAt", i.failure,
    jsonb_build_object('done', i.progress_done, 'total', i.progress_total, 'what', i.progress_what) AS progress,
    ARRAY(SELECT name FROM intake_uploads u WHERE u.intake = i.id ORDER BY position) AS uploads,
    (SELECT count(*)::int FROM candidates c WHERE c.intake = i.id AND c.state = 'waiting') AS waiting,
    (SELECT count(*)::int FROM candidates c WHERE c.intake = i.id AND c.state = 'accepted') AS accepted
  FROM intakes i JOIN people p ON p.id = i.person`;

export async function insertIntake(db: Db, person: string, onClash: OnClash): Promise<string> {
  const row = await oneRow(
    db,
    z.object({ id: z.string() }),
    "INSERT INTO intakes (person, on_clash) VALUES ($1, $2) RETURNING id",
    [person, onClash],
  );
  return row!.id;
}

export const findIntake = (db: Db, id: string) => oneRow(db, intakeSchema, `${INTAKE} WHERE i.id = $1`, [id]);

export const listIntakes = (db: Db) =>
  rows(db, intakeSchema, `${INTAKE} ORDER BY i.created_at DESC LIMIT 50`);

export async function insertUpload(
  db: Db,
  intake: string,
  position: number,
  upload: { name: string; sha256: string },
) {
  await db.query("INSERT INTO intake_uploads (intake, position, name, sha256) VALUES ($1, $2, $3, $4)", [
    intake,
    position,
    upload.name,
    upload.sha256,
  ]);
}

export const listUploads = (db: Db, intake: string) =>
  rows(
    db,
    z.object({ name: z.string(), sha256: z.string() }),
    "SELECT name, sha256 FROM intake_uploads WHERE intake = $1 ORDER BY position",
    [intake],
  );

export async function setIntakeState(
  db: Db,
  id: string,
  state: IntakeRow["state"],
  failure: string | null = null,
) {
  await db.query("UPDATE intakes SET state = $2, failure = $3 WHERE id = $1", [id, state, failure]);
}

export async function setIntakeProgress(
  db: Db,
  id: string,
  progress: { done: number; total: number; what: string },
) {
  await db.query(
    "UPDATE intakes SET progress_done = $2, progress_total = $3, progress_what = $4 WHERE id = $1",
    [id, progress.done, progress.total, progress.what],
  );
}

/** Writes what an intake recognised in place of what it recognised before, so that reading twice does no harm. */
export async function replaceCandidates(
  db: Db,
  intake: string,
  candidates: PlannedCandidate[],
  ignored: IgnoredFile[],
) {
  await db.query("DELETE FROM candidates WHERE intake = $1", [intake]);
  await db.query("DELETE FROM intake_ignored WHERE intake = $1", [intake]);
  for (const [position, candidate] of candidates.entries()) {
    const row = await oneRow(
      db,
      z.object({ id: z.string() }),
      "INSERT INTO candidates (intake, position, name, kind, findings) VALUES ($1, $2, $3, $4, $5) RETURNING id",
      [intake, position, candidate.name.slice(0, 200), candidate.kind, JSON.stringify(candidate.findings)],
    );
    for (const [at, map] of candidate.maps.entries()) await insertCandidateMap(db, row!.id, at, map);
  }
  for (const [position, { file, reason }] of ignored.entries())
    await db.query("INSERT INTO intake_ignored (intake, position, file, reason) VALUES ($1, $2, $3, $4)", [
      intake,
      position,
      file,
      reason,
    ]);
}

async function insertCandidateMap(db: Db, candidate: string, position: number, map: CandidateMap) {
  await db.query(
    `INSERT INTO candidate_maps (candidate, position, file, sha256, channel, role, confidence, normal_direction, likely)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
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
    ],
  );
}

export const candidateSchema = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(["material", "wear", "environment"]),
  state: z.enum(["waiting", "accepted"]),
  material: z.string().nullable(),
  findings: z.array(findingSchema),
  maps: z.array(
    z.object({
      file: z.string(),
      sha256: z.string(),
      channel: z.enum(["color", "alpha"]),
      role: z.enum([...ROLES, "unknown"]),
      confidence: z.number(),
      normalDirection: z.enum(["+Y", "-Y"]).nullable(),
      likely: z.array(z.enum(ROLES)),
      width: z.number(),
      height: z.number(),
      bitDepth: z.number(),
      format: z.string(),
    }),
  ),
});
export type CandidateRow = z.infer<typeof candidateSchema>;

export const listCandidates = (db: Db, intake: string): Promise<CandidateRow[]> =>
  rows(
    db,
    candidateSchema,
    `SELECT c.id, c.name, c.kind, c.state, c.material, c.findings,
       COALESCE((SELECT jsonb_agg(jsonb_build_object('file', a.file, 'sha256', a.sha256, 'channel', a.channel, 'role', a.role,
           'confidence', round(a.confidence::numeric, 2), 'normalDirection', a.normal_direction, 'likely', a.likely,
           'width', i.width, 'height', i.height, 'bitDepth', i.bit_depth, 'format', i.format) ORDER BY a.position)
         FROM candidate_maps a JOIN images i USING (sha256) WHERE a.candidate = c.id), '[]') AS maps
     FROM candidates c WHERE c.intake = $1 ORDER BY c.position`,
    [intake],
  );

export const listIgnored = (db: Db, intake: string) =>
  rows(
    db,
    z.object({ file: z.string(), reason: z.string() }),
    "SELECT file, reason FROM intake_ignored WHERE intake = $1 ORDER BY position",
    [intake],
  );

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
      "UPDATE candidate_maps SET role = $3, normal_direction = $4 WHERE candidate = $1 AND file = $2",
      [candidate, fileName, role, normalDirection],
    );
}

export async function markAccepted(db: Db, candidate: string, material: string) {
  await db.query("UPDATE candidates SET state = 'accepted', material = $2 WHERE id = $1", [
    candidate,
    material,
  ]);
}
