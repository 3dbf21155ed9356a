import { z } from "zod";
import { IGNORED_KINDS } from "#core/candidates/candidate";
import { fittingValues } from "#core/formats/fittingValues";
import { MATERIAL_KINDS, LAYOUTS } from "#core/finish/material";
import { PURPOSES } from "#core/judge/holdsUp";
import { MAP_CHANNELS } from "#core/roles/channel";
import { ROLES } from "#core/roles/roles";
import { type Db, oneRow, rows } from "#server/db/database";
import type { Slice } from "#server/db/page";
import { INTAKE_PROGRESS } from "#server/events/progress";
import { foundLicenceSchema } from "#server/licence/queries";
import { findingSchema } from "#server/material/queries";
import { fetchSchema, variantSheetSchema } from "#server/supplier/queries";

export const INTAKE_STATES = ["receiving", "reading", "review", "accepted", "failed"] as const;

export const ON_CLASH = ["skip", "replace", "keep-both"] as const;

export type OnClash = (typeof ON_CLASH)[number];

export const intakeSchema = z.object({
  id: z.string(),
  state: z.enum(INTAKE_STATES),
  /** How far its reading is: what came in is unpacked, its files are studied, its sets are judged. */
  stage: z.enum(["unpack", "study", "judge"]),
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
  /** How many files have arrived, the names of the first three, and the folder that all of them come from. */
  files: z.number(),
  firstFiles: z.array(z.string()),
  root: z.string().nullable(),
  waiting: z.number(),
  /** Those of them that are being judged anew. */
  judging: z.number(),
  accepted: z.number(),
});

export type IntakeRow = z.infer<typeof intakeSchema>;

const INTAKE = `
  SELECT i.id, i.state, i.stage, i.on_clash AS "onClash", p.name AS person, i.person AS "personId", i.expected, i.created_at AS "createdAt", i.failure,
    i.purpose, i.hold, i.item_seconds AS "itemSeconds", i.item_mib AS "itemMib", i.least_maps AS "leastMaps",
    i.least_pixels AS "leastPixels", i.found_at AS "foundAt", i.ordered AS "fetch",
    ${INTAKE_PROGRESS} AS progress,
    i.files, i.root, ARRAY(SELECT name FROM intake_uploads u WHERE u.intake = i.id ORDER BY position LIMIT 3) AS "firstFiles",
    (SELECT count(*)::int FROM candidates c WHERE c.intake = i.id AND c.state = 'waiting') AS waiting,
    (SELECT count(*)::int FROM candidates c WHERE c.intake = i.id AND c.state = 'waiting' AND c.is_stale) AS judging,
    (SELECT count(*)::int FROM candidates c WHERE c.intake = i.id AND c.state = 'accepted') AS accepted
  FROM intakes i JOIN people p ON p.id = i.person`;

export const findIntake = (db: Db, id: string) => oneRow(db, intakeSchema, `${INTAKE} WHERE i.id = $1`, [id]);

/** The newest first. */
export const listIntakes = (db: Db, { offset, limit }: Slice) =>
  rows(db, intakeSchema, `${INTAKE} ORDER BY i.created_at DESC, i.id OFFSET $1 LIMIT $2`, [offset, limit]);

/** What is asked before each of its files is received. */
export const findReceiving = (db: Db, id: string) =>
  oneRow(
    db,
    intakeSchema.pick({ state: true, person: true, personId: true }),
    `SELECT i.state, p.name AS person, i.person AS "personId" FROM intakes i JOIN people p ON p.id = i.person WHERE i.id = $1`,
    [id],
  );

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

export const modelHintSchema = z.object({
  /** The model or material file. */
  from: z.string(),
  repeat: z.object({ width: z.number(), height: z.number() }).nullable(),
  /** What it says of a finish. */
  values: z.record(z.string(), z.unknown()).transform(fittingValues),
});

export type ModelHint = z.infer<typeof modelHintSchema>;

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
  clashes: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      same: z.enum(["name", "picture"]),
      /** Whether it has all the pictures of the candidate. */
      isWhole: z.boolean(),
    }),
  ),
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
      leftOut: z.boolean(),
      /** Who said what it is, where somebody did for many at once. */
      answer: z.string().nullable(),
      width: z.number(),
      height: z.number(),
      bitDepth: z.number(),
      format: z.string(),
    }),
  ),
});

export type CandidateRow = z.infer<typeof candidateSchema>;

/** Candidates as they are reviewed. @param which SQL that picks them from `candidates c` by parameters from $1 on */
const CANDIDATES = (which: string) => `
  SELECT c.id, c.name, c.kind, c.layout, c.folder, c.scope, c.licence, c.hint, c.sheet, c.on_clash AS "onClash", c.state, c.material, c.findings,
    CASE WHEN c.state = 'accepted' THEN '[]' ELSE COALESCE((
      SELECT jsonb_agg(jsonb_build_object('id', m.id, 'name', m.name,
          'same', CASE WHEN lower(m.name) = lower(c.name) THEN 'name' ELSE 'picture' END, 'isWhole', whole.yes)
          ORDER BY whole.yes DESC, m.created_at)
        FROM materials m, LATERAL (SELECT count(*) > 0 AND bool_and(b.sha256 IN (
            SELECT a.sha256 FROM maps a WHERE a.material = m.id AND a.revision = m.revision)) AS yes
          FROM candidate_maps b WHERE b.candidate = c.id) AS whole
       WHERE m.deleted_at IS NULL AND m.merged_into IS NULL AND m.id IN (
          SELECT n.id FROM materials n WHERE lower(n.name) = lower(c.name) AND n.deleted_at IS NULL
          UNION
          SELECT a.material FROM candidate_maps b JOIN maps a ON a.sha256 = b.sha256 AND a.role = 'base_color'
            JOIN materials n ON n.id = a.material AND n.revision = a.revision
           WHERE b.candidate = c.id AND b.role = 'base_color')), '[]') END AS clashes,
    COALESCE((SELECT jsonb_agg(jsonb_build_object('file', a.file, 'sha256', a.sha256, 'channel', a.channel, 'role', a.role,
        'confidence', round(a.confidence::numeric, 2), 'normalDirection', a.normal_direction, 'likely', a.likely,
        'leftOut', a.left_out, 'answer', a.answer, 'width', i.width, 'height', i.height, 'bitDepth', i.bit_depth, 'format', i.format) ORDER BY a.position)
      FROM candidate_maps a JOIN images i USING (sha256) WHERE a.candidate = c.id), '[]') AS maps
  FROM candidates c WHERE ${which} ORDER BY c.position, c.id`;

export const listCandidates = (db: Db, intake: string): Promise<CandidateRow[]> =>
  rows(db, candidateSchema, CANDIDATES("c.intake = $1"), [intake]);

/** Some of the candidates of an intake; those of another one are left out. */
export const findCandidates = (db: Db, intake: string, ids: string[]): Promise<CandidateRow[]> =>
  rows(db, candidateSchema, CANDIDATES("c.intake = $1 AND c.id = ANY($2::uuid[])"), [intake, ids]);

/** The ids of those that wait, in their order. */
export async function waitingCandidates(db: Db, intake: string): Promise<string[]> {
  const found = await rows(
    db,
    z.object({ id: z.string() }),
    "SELECT id FROM candidates WHERE intake = $1 AND state = 'waiting' ORDER BY position, id",
    [intake],
  );
  return found.map(({ id }) => id);
}

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
