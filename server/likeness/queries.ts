import { z } from "zod";
import type { Likeness } from "#core/judge/likeness";
import { type Db, rows } from "#server/db/database";

export const DECISIONS = ["same", "variant", "different"] as const;

export type Decision = (typeof DECISIONS)[number];

/** Whether an image is the base color of a live material. */
const IN_USE = `EXISTS (
        SELECT 1 FROM maps a JOIN materials m ON m.id = a.material AND m.revision = a.revision
         WHERE a.sha256 = f.sha256 AND a.role = 'base_color' AND m.deleted_at IS NULL AND m.merged_into IS NULL)`;

/** Base color maps of live materials that share a band of the fingerprint with an image, those with most first. */
export function findLikeImages(db: Db, sha256: string): Promise<string[]> {
  return hashesOf(
    db,
    `SELECT f.sha256 FROM fingerprints own
       JOIN fingerprints f ON f.band = own.band AND f.value = own.value AND f.sha256 <> own.sha256
      WHERE own.sha256 = $1 AND ${IN_USE}
      GROUP BY f.sha256 ORDER BY count(*) DESC, f.sha256 LIMIT 12`,
    sha256,
  );
}

/** Parts of one surface lie nearer than this: crops by a third and less, measured on 600 of them. */
export const FAR = 26;

/** Base color maps of live materials whose figures are nearest to an image's: of what it may be a part, and what of it. */
export function findNearImages(db: Db, sha256: string): Promise<string[]> {
  return hashesOf(
    db,
    `SELECT near.sha256 FROM picture_figures own
      CROSS JOIN LATERAL (
        SELECT f.sha256, f.figures <-> own.figures AS distance FROM picture_figures f
         WHERE f.sha256 <> own.sha256 AND ${IN_USE}
         ORDER BY f.figures <-> own.figures LIMIT 24) near
      WHERE own.sha256 = $1 AND near.distance < ${FAR} ORDER BY near.distance`,
    sha256,
  );
}

async function hashesOf(db: Db, sql: string, sha256: string): Promise<string[]> {
  const found = await rows(db, z.object({ sha256: z.string() }), sql, [sha256]);
  return found.map((row) => row.sha256);
}

/** Live materials that had an image as their base color in an earlier revision, and have not now. */
export function materialsMadeFrom(db: Db, sha256: string) {
  return rows(
    db,
    z.object({ id: z.string(), name: z.string() }),
    `SELECT DISTINCT m.id, m.name FROM maps a JOIN materials m ON m.id = a.material AND m.revision > a.revision
      WHERE a.sha256 = $1 AND a.role = 'base_color' AND m.deleted_at IS NULL AND m.merged_into IS NULL AND NOT EXISTS (
        SELECT 1 FROM maps now WHERE now.material = m.id AND now.revision = m.revision AND now.sha256 = $1)
      ORDER BY m.name LIMIT 12`,
    [sha256],
  );
}

/** Live materials that have an image as their base color. */
export function materialsOfImage(db: Db, sha256: string) {
  return rows(
    db,
    z.object({ id: z.string(), name: z.string() }),
    `SELECT m.id, m.name FROM maps a JOIN materials m ON m.id = a.material AND m.revision = a.revision
      WHERE a.sha256 = $1 AND a.role = 'base_color' AND m.deleted_at IS NULL AND m.merged_into IS NULL ORDER BY m.name LIMIT 12`,
    [sha256],
  );
}

/** The live materials that have either picture of a pair, with the line and the supplier that each is of. */
export const materialsOfPair = (db: Db, { first, second }: { first: string; second: string }) =>
  rows(
    db,
    z.object({
      id: z.string(),
      name: z.string(),
      line: z.string().nullable(),
      supplier: z.string().nullable(),
      /** Which of the two pictures is its. */
      isFirst: z.boolean(),
    }),
    `SELECT DISTINCT m.id, m.name, m.line, s.supplier, a.sha256 = $1 AS "isFirst"
       FROM maps a JOIN materials m ON m.id = a.material AND m.revision = a.revision JOIN sources s ON s.id = m.source
      WHERE a.sha256 IN ($1, $2) AND a.role = 'base_color' AND m.kind = 'material' AND m.deleted_at IS NULL AND m.merged_into IS NULL
      ORDER BY "isFirst" DESC, m.id`,
    [first, second],
  );

const partSchema = z.object({ left: z.number(), top: z.number(), width: z.number(), height: z.number() });

/** What both pictures of a pair show, in shares of their sides. */
export const partsSchema = z.object({ first: partSchema, second: partSchema });

const measuredSchema = z.object({
  alike: z.number(),
  turns: z.number(),
  shiftX: z.number(),
  shiftY: z.number(),
  tint: z.array(z.number()),
  mirrored: z.boolean(),
  parts: partsSchema.nullable(),
});

const MEASURED = `l.alike::float8 AS alike, l.turns, l.shift_x::float8 AS "shiftX", l.shift_y::float8 AS "shiftY",
       l.tint::float8[] AS tint, l.mirrored, l.parts`;

/** Live materials whose base color is like an image, the likeliest first, with what was decided of that pair. */
export async function materialsLike(db: Db, sha256: string) {
  const found = await rows(
    db,
    measuredSchema.extend({
      id: z.string(),
      name: z.string(),
      isFirst: z.boolean(),
      decision: z.enum(DECISIONS).nullable(),
    }),
    `SELECT m.id, m.name, l.first = $1 AS "isFirst", l.decision, ${MEASURED}
       FROM likenesses l JOIN maps a ON a.sha256 = CASE WHEN l.first = $1 THEN l.second ELSE l.first END
       JOIN materials m ON m.id = a.material AND m.revision = a.revision
      WHERE $1 IN (l.first, l.second) AND a.role = 'base_color' AND m.deleted_at IS NULL AND m.merged_into IS NULL
      ORDER BY l.alike DESC, m.name`,
    [sha256],
  );
  return found.map(({ id, name, isFirst, decision, parts, ...measured }) => ({
    id,
    name,
    isFirst,
    decision,
    likeness: { ...measured, ...(parts && { parts }) } as Likeness,
  }));
}

const pairSchema = measuredSchema.extend({
  first: z.string(),
  second: z.string(),
  decision: z.enum(DECISIONS).nullable(),
  decidedBy: z.string().nullable(),
  sides: z.array(
    z.object({
      sha256: z.string(),
      width: z.number(),
      height: z.number(),
      format: z.string(),
      bitDepth: z.number(),
      bytes: z.number(),
      /** Materials of the library, or candidates that wait. */
      owners: z.array(
        z.object({
          kind: z.enum(["material", "candidate"]),
          id: z.string(),
          intake: z.string().nullable(),
          name: z.string(),
        }),
      ),
    }),
  ),
});

export type LikePair = z.infer<typeof pairSchema>;

/** Pairs that were found and are still in use on both sides; the undecided first. */
export function listLikePairs(db: Db, limit = 60): Promise<LikePair[]> {
  return rows(
    db,
    pairSchema,
    `WITH owners AS (
       SELECT a.sha256, jsonb_build_object('kind', 'material', 'id', m.id, 'intake', NULL, 'name', m.name) AS owner
         FROM maps a JOIN materials m ON m.id = a.material AND m.revision = a.revision
        WHERE a.role = 'base_color' AND m.deleted_at IS NULL AND m.merged_into IS NULL
          AND a.sha256 IN (SELECT first FROM likenesses UNION SELECT second FROM likenesses)
       UNION ALL
       SELECT a.sha256, jsonb_build_object('kind', 'candidate', 'id', c.id, 'intake', c.intake, 'name', c.name)
         FROM candidate_maps a JOIN candidates c ON c.id = a.candidate
        WHERE a.role = 'base_color' AND c.state = 'waiting'
          AND a.sha256 IN (SELECT first FROM likenesses UNION SELECT second FROM likenesses)),
     side AS (
       SELECT i.sha256, jsonb_build_object('sha256', i.sha256, 'width', i.width, 'height', i.height, 'format', i.format,
           'bitDepth', i.bit_depth, 'bytes', f.bytes, 'owners', jsonb_agg(o.owner)) AS side
         FROM images i JOIN files f USING (sha256) JOIN owners o USING (sha256) GROUP BY i.sha256, f.bytes)
     SELECT l.first, l.second, ${MEASURED}, l.decision, p.name AS "decidedBy", jsonb_build_array(a.side, b.side) AS sides
       FROM likenesses l JOIN side a ON a.sha256 = l.first JOIN side b ON b.sha256 = l.second
       LEFT JOIN people p ON p.id = l.decided_by
      ORDER BY l.decision IS NOT NULL, l.alike DESC LIMIT $1`,
    [limit],
  );
}
