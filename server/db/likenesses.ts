import { z } from "zod";
import type { Likeness } from "#core/judge/likeness";
import { rows, type Db } from "#server/db/database";

export const DECISIONS = ["same", "variant", "different"] as const;
export type Decision = (typeof DECISIONS)[number];

/** Base color maps of live materials that share a band of the fingerprint with an image, those with most first. */
export async function findLikeImages(db: Db, sha256: string): Promise<string[]> {
  const found = await rows(
    db,
    z.object({ sha256: z.string() }),
    `SELECT f.sha256 FROM fingerprints own
       JOIN fingerprints f ON f.band = own.band AND f.value = own.value AND f.sha256 <> own.sha256
      WHERE own.sha256 = $1 AND EXISTS (
        SELECT 1 FROM maps a JOIN materials m ON m.id = a.material AND m.revision = a.revision
         WHERE a.sha256 = f.sha256 AND a.role = 'base_color' AND m.deleted_at IS NULL)
      GROUP BY f.sha256 ORDER BY count(*) DESC, f.sha256 LIMIT 12`,
    [sha256],
  );
  return found.map((row) => row.sha256);
}

/** Base color maps of live materials whose pixels are to be read anew, as after a change of what is read. */
export async function unreadImages(db: Db): Promise<string[]> {
  const found = await rows(
    db,
    z.object({ sha256: z.string() }),
    `SELECT DISTINCT i.sha256 FROM images i JOIN maps a USING (sha256)
       JOIN materials m ON m.id = a.material AND m.revision = a.revision
      WHERE a.role = 'base_color' AND m.deleted_at IS NULL AND i.reading IS NOT NULL AND NOT i.reading ? 'seams'`,
  );
  return found.map(({ sha256 }) => sha256);
}

/** Live materials that have one of these images as their base color, with what was decided of the pair. */
export function materialsOfImages(db: Db, hashes: string[]) {
  return rows(
    db,
    z.object({
      sha256: z.string(),
      id: z.string(),
      name: z.string(),
      decision: z.enum(DECISIONS).nullable(),
    }),
    `SELECT a.sha256, m.id, m.name,
       (SELECT decision FROM likenesses l WHERE a.sha256 IN (l.first, l.second) AND decision IS NOT NULL LIMIT 1) AS decision
       FROM maps a JOIN materials m ON m.id = a.material AND m.revision = a.revision
      WHERE a.sha256 = ANY($1) AND a.role = 'base_color' AND m.deleted_at IS NULL ORDER BY m.name LIMIT 12`,
    [hashes],
  );
}

export async function insertLikenesses(
  db: Db,
  sha256: string,
  found: { sha256: string; likeness: Likeness }[],
): Promise<void> {
  for (const { sha256: other, likeness } of found) {
    const [first, second] = [sha256, other].sort();
    const { alike, mirrored, turns, shiftX, shiftY, tint } = likeness;
    await db.query(
      `INSERT INTO likenesses (first, second, alike, turns, shift_x, shift_y, tint, mirrored) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)
       ON CONFLICT (first, second) DO NOTHING`,
      [first, second, alike, turns, shiftX, shiftY, tint, mirrored],
    );
  }
}

const pairSchema = z.object({
  first: z.string(),
  second: z.string(),
  alike: z.number(),
  turns: z.number(),
  shiftX: z.number(),
  shiftY: z.number(),
  tint: z.array(z.number()),
  mirrored: z.boolean(),
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
        WHERE a.role = 'base_color' AND m.deleted_at IS NULL
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
     SELECT l.first, l.second, l.alike::float8 AS alike, l.turns, l.shift_x::float8 AS "shiftX", l.shift_y::float8 AS "shiftY",
       l.tint::float8[] AS tint, l.mirrored, l.decision, p.name AS "decidedBy", jsonb_build_array(a.side, b.side) AS sides
       FROM likenesses l JOIN side a ON a.sha256 = l.first JOIN side b ON b.sha256 = l.second
       LEFT JOIN people p ON p.id = l.decided_by
      ORDER BY l.decision IS NOT NULL, l.alike DESC LIMIT $1`,
    [limit],
  );
}

/** @returns whether there is such a pair. */
export async function decideLikeness(
  db: Db,
  pair: { first: string; second: string },
  decision: Decision | null,
  person: string,
): Promise<boolean> {
  const done = await db.query(
    `UPDATE likenesses SET decision = $3, decided_by = CASE WHEN $3::text IS NULL THEN NULL ELSE $4::uuid END,
       decided_at = CASE WHEN $3::text IS NULL THEN NULL ELSE now() END WHERE first = $1 AND second = $2`,
    [pair.first, pair.second, decision, person],
  );
  return done.rowCount === 1;
}
