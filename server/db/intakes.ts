import { z } from "zod";
import {
  IGNORED_KINDS,
  type CandidateMap,
  type IgnoredFile,
  type PlannedCandidate,
} from "#core/maps/candidate";
import { PURPOSES, type Purpose } from "#core/judge/holdsUp";
import { LAYOUTS, MATERIAL_KINDS } from "#core/finish/material";
import { MAP_CHANNELS } from "#core/maps/channel";
import { ROLES } from "#core/maps/roles";
import { oneRow, rows, type Db } from "#server/db/database";
import { plainLine } from "#core/text/plainText";
import type { Slice } from "#server/db/page";
import { findingSchema } from "#server/db/materials";
import { fetchSchema, variantSheetSchema, type Fetch, type VariantSheet } from "#server/db/suppliers";

export const INTAKE_STATES = ["receiving", "reading", "review", "accepted", "failed"] as const;
export const ON_CLASH = ["skip", "replace", "keep-both"] as const;
export type OnClash = (typeof ON_CLASH)[number];

const intakeSchema = z.object({
  id: z.string(),
  state: z.enum(INTAKE_STATES),
  onClash: z.enum(ON_CLASH),
  person: z.string(),
  personId: z.string(),
  /** How many files were announced, where they come one by one. */
  expected: z.number().nullable(),
  createdAt: z.date(),
  failure: z.string().nullable(),
  purpose: z.enum(PURPOSES),
  hold: z.enum(["pause", "stop"]).nullable(),
  itemSeconds: z.number(),
  itemMib: z.number(),
  leastMaps: z.number(),
  leastPixels: z.number(),
  foundAt: z.string().nullable(),
  /** What a supplier is asked for, where the files come from one. */
  fetch: fetchSchema.nullable(),
  /** `left`: seconds still to go, where that can be said. */
  progress: z.object({ done: z.number(), total: z.number(), what: z.string(), left: z.number().nullable() }),
  uploads: z.array(z.string()),
  waiting: z.number(),
  accepted: z.number(),
});
export type IntakeRow = z.infer<typeof intakeSchema>;

/** Seconds that the rest of the present step takes at the pace so far; null before there is a pace. */
const LEFT = `CASE WHEN i.state = 'reading' AND i.progress_done > 1 AND i.progress_total > 0 THEN
  round(extract(epoch FROM now() - i.progress_since) / i.progress_done * (i.progress_total - i.progress_done))::int END`;

/** How far an intake `i` is, as JSON. */
export const INTAKE_PROGRESS = `jsonb_build_object('done', i.progress_done, 'total', i.progress_total, 'what', i.progress_what, 'left', ${LEFT})`;
export const intakeProgress = intakeSchema.pick({ progress: true });

const INTAKE = `
  SELECT i.id, i.state, i.on_clash AS "onClash", p.name AS person, i.person AS "personId", i.expected, i.created_at AS "createdAt", i.failure,
    i.purpose, i.hold, i.item_seconds AS "itemSeconds", i.item_mib AS "itemMib", i.least_maps AS "leastMaps",
    i.least_pixels AS "leastPixels", i.found_at AS "foundAt", i.ordered AS "fetch",
    ${INTAKE_PROGRESS} AS progress,
    ARRAY(SELECT name FROM intake_uploads u WHERE u.intake = i.id ORDER BY position) AS uploads,
    (SELECT count(*)::int FROM candidates c WHERE c.intake = i.id AND c.state = 'waiting') AS waiting,
    (SELECT count(*)::int FROM candidates c WHERE c.intake = i.id AND c.state = 'accepted') AS accepted
  FROM intakes i JOIN people p ON p.id = i.person`;

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

export const findIntake = (db: Db, id: string) => oneRow(db, intakeSchema, `${INTAKE} WHERE i.id = $1`, [id]);

/** The newest first. */
export const listIntakes = (db: Db, { offset, limit }: Slice) =>
  rows(db, intakeSchema, `${INTAKE} ORDER BY i.created_at DESC, i.id OFFSET $1 LIMIT $2`, [offset, limit]);

export async function insertUpload(
  db: Db,
  intake: string,
  position: number,
  upload: { name: string; sha256: string },
) {
  await db.query(
    "INSERT INTO intake_uploads (intake, position, name, sha256) VALUES ($1, $2, $3, $4) ON CONFLICT (intake, position) DO NOTHING",
    [intake, position, upload.name, upload.sha256],
  );
  await db.query("UPDATE intakes SET touched_at = now() WHERE id = $1", [intake]);
}

/** Bytes that somebody handed in within the last day: the files, what came out of them, and what is announced and on its way. */
export async function bytesOfDay(db: Db, person: string): Promise<number> {
  const row = await oneRow(
    db,
    z.object({ bytes: z.number() }),
    `WITH of_day AS (SELECT id, unpacked_bytes FROM intakes WHERE person = $1 AND created_at > now() - interval '1 day')
     SELECT (COALESCE((SELECT sum(bytes) FROM of_day JOIN intake_uploads ON intake = id JOIN files USING (sha256)), 0)
           + COALESCE((SELECT sum(unpacked_bytes) FROM of_day), 0)
           + COALESCE((SELECT sum(bytes) FROM announced_uploads JOIN of_day ON intake = of_day.id), 0))::bigint AS bytes`,
    [person],
  );
  return row!.bytes;
}

/** Keeps how much came out of the zips of an intake. */
export async function setUnpacked(db: Db, id: string, bytes: number): Promise<void> {
  await db.query("UPDATE intakes SET unpacked_bytes = $2 WHERE id = $1", [id, bytes]);
}

/** Notes an upload that has begun, by its name; its bytes count from now on. */
export async function announceUpload(
  db: Db,
  upload: { id: string; intake: string; bytes: number },
): Promise<void> {
  await db.query("INSERT INTO announced_uploads (id, intake, bytes) VALUES ($1, $2, $3)", [
    upload.id,
    upload.intake,
    upload.bytes,
  ]);
  await db.query("UPDATE intakes SET touched_at = now() WHERE id = $1", [upload.intake]);
}

/** How many intakes somebody has begun, whose files come one by one, and not completed. */
export async function receivingOf(db: Db, person: string): Promise<number> {
  const row = await oneRow(
    db,
    z.object({ count: z.number() }),
    "SELECT count(*)::int AS count FROM intakes WHERE person = $1 AND state = 'receiving' AND ordered IS NULL",
    [person],
  );
  return row!.count;
}

/** Ends intakes that were begun, and that nothing has come for in hours: of one person, or of everybody. */
export async function endIdle(db: Db, hours: number, person: string | null): Promise<string[]> {
  const ended = await rows(
    db,
    z.object({ id: z.string() }),
    `UPDATE intakes SET state = 'failed', failure = 'It was begun and never completed. Hand the files in again.'
      WHERE state = 'receiving' AND ordered IS NULL AND touched_at < now() - make_interval(hours => $1)
        AND ($2::uuid IS NULL OR person = $2) RETURNING id`,
    [hours, person],
  );
  const ids = ended.map(({ id }) => id);
  await db.query("DELETE FROM announced_uploads WHERE intake = ANY($1::uuid[])", [ids]);
  return ids;
}

/** An upload has arrived, or was given up. */
export async function forgetUpload(db: Db, id: string): Promise<void> {
  await db.query("DELETE FROM announced_uploads WHERE id = $1", [id]);
}

/** What somebody wishes for an intake that is being read. */
export async function findHold(db: Db, id: string): Promise<IntakeRow["hold"]> {
  const row = await oneRow(db, intakeSchema.pick({ hold: true }), "SELECT hold FROM intakes WHERE id = $1", [
    id,
  ]);
  return row?.hold ?? null;
}

/** The intake that took in what was found at a place of the drop folder. */
export const findIntakeAt = (db: Db, foundAt: string) =>
  oneRow(db, z.object({ id: z.string() }), "SELECT id FROM intakes WHERE found_at = $1", [foundAt]);

export const listUploads = (db: Db, intake: string) =>
  rows(
    db,
    z.object({ position: z.number(), name: z.string(), sha256: z.string(), bytes: z.number() }),
    "SELECT position, name, sha256, bytes FROM intake_uploads JOIN files USING (sha256) WHERE intake = $1 ORDER BY position",
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
): Promise<IntakeRow["hold"]> {
  const row = await oneRow(
    db,
    intakeSchema.pick({ hold: true }),
    `UPDATE intakes i SET progress_done = $2, progress_total = $3, progress_what = $4,
       progress_since = CASE WHEN $2 <= 1 OR $3 <> progress_total THEN now() ELSE progress_since END
      WHERE id = $1 RETURNING hold`,
    [id, progress.done, progress.total, progress.what],
  );
  return row?.hold ?? null;
}

/** The time from which the pace of the reading counts. */
export async function startClock(db: Db, id: string): Promise<void> {
  await db.query("UPDATE intakes SET progress_since = now() WHERE id = $1", [id]);
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

/** A candidate with what the reading knows of where it came from. */
export interface ReadCandidate extends PlannedCandidate {
  scope: string;
  licence: FoundLicence | null;
  hint: ModelHint | null;
  sheet: VariantSheet | null;
}

export const modelHintSchema = z.object({
  /** The model or material file. */
  from: z.string(),
  repeat: z.object({ width: z.number(), height: z.number() }).nullable(),
  values: z.object({
    color: z.string().optional(),
    roughness: z.number().optional(),
    metalness: z.number().optional(),
    ior: z.number().optional(),
  }),
});
export type ModelHint = z.infer<typeof modelHintSchema>;

export const foundLicenceSchema = z.object({
  name: z.string(),
  price: z.enum(["free", "bought", "unknown"]),
  projects: z.enum(["one", "all"]).nullable(),
  credit: z.string().nullable(),
  nonCommercial: z.boolean(),
  sentence: z.string(),
  /** The text that it was read from. */
  file: z.string(),
});
export type FoundLicence = z.infer<typeof foundLicenceSchema>;

/** Takes an intake that is being fetched; undefined where it is not, or was stopped. */
export const lockFetch = (db: Db, id: string) =>
  oneRow(
    db,
    z.object({ id: z.string() }),
    "SELECT id FROM intakes WHERE id = $1 AND state = 'receiving' AND ordered IS NOT NULL FOR UPDATE",
    [id],
  );

/** Takes an intake for writing what was read of it; undefined where it is no longer being read. */
export const lockReading = (db: Db, id: string) =>
  oneRow(
    db,
    z.object({ id: z.string() }),
    "SELECT id FROM intakes WHERE id = $1 AND state = 'reading' FOR UPDATE",
    [id],
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
        JSON.stringify(
          candidate.findings.map((one) => ({ ...one, message: plainLine(one.message, MOST_SAID) })),
        ),
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
  kind: z.enum(MATERIAL_KINDS),
  layout: z.enum(LAYOUTS),
  folder: z.string(),
  scope: z.string(),
  licence: foundLicenceSchema.nullable(),
  hint: modelHintSchema.nullable(),
  sheet: variantSheetSchema.nullable(),
  onClash: z.enum(ON_CLASH).nullable(),
  /** Materials of the library that it would clash with. */
  clashes: z.array(z.object({ id: z.string(), name: z.string(), same: z.enum(["name", "picture"]) })),
  state: z.enum(["waiting", "accepted"]),
  material: z.string().nullable(),
  findings: z.array(findingSchema),
  maps: z.array(
    z.object({
      file: z.string(),
      sha256: z.string(),
      channel: z.enum(MAP_CHANNELS),
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
    `SELECT c.id, c.name, c.kind, c.layout, c.folder, c.scope, c.licence, c.hint, c.sheet, c.on_clash AS "onClash", c.state, c.material, c.findings,
       CASE WHEN c.state = 'accepted' THEN '[]' ELSE COALESCE((
         SELECT jsonb_agg(jsonb_build_object('id', m.id, 'name', m.name,
             'same', CASE WHEN lower(m.name) = lower(c.name) THEN 'name' ELSE 'picture' END))
           FROM materials m WHERE m.deleted_at IS NULL AND (lower(m.name) = lower(c.name) OR m.id IN (
             SELECT a.material FROM candidate_maps b JOIN maps a ON a.sha256 = b.sha256 AND a.role = 'base_color'
               JOIN materials n ON n.id = a.material AND n.revision = a.revision
              WHERE b.candidate = c.id AND b.role = 'base_color'))), '[]') END AS clashes,
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
    z.object({
      file: z.string(),
      reason: z.string(),
      kind: z.enum(IGNORED_KINDS),
      sha256: z.string().nullable(),
    }),
    "SELECT file, reason, kind, sha256 FROM intake_ignored WHERE intake = $1 ORDER BY position",
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
