import { z } from "zod";
import { FAMILIES, mayShareModules } from "#core/finish/family";
import type { Module } from "#core/gauge/layModule";
import type { SizeEvidence, UsedModule } from "#core/gauge/proposeSizes";
import { rows, type Db } from "#server/db/database";
import { FAR } from "#server/likeness/queries";
import type { MaterialRow } from "#server/material/queries";

/** Of all modules that were taken, so many of the newest are looked through. */
const NEWEST = 1500;
/** So many of one kind of kin are worth to be proposed. */
const MOST_USED = 3;
/** So many of the nearest pictures are looked at. */
const NEAREST = 24;

const sides = z.object({ width: z.number().optional(), height: z.number().optional() });
const takenSchema = z.object({
  material: z.string(),
  line: z.string().nullable(),
  supplier: z.string().nullable(),
  family: z.enum(FAMILIES).nullable(),
  gauge: z.object({
    workSize: sides.optional(),
    joint: z.number().optional(),
    jointVertical: z.number().optional(),
    coverSize: sides.optional(),
    looksLike: z.object({ across: z.number(), down: z.number() }).optional(),
  }),
});
type Taken = z.infer<typeof takenSchema>;

/** The modules by which materials got the size that they have, the newest first. @param lines ids of lines, of which all are listed */
const listTaken = (db: Db, lines: string[]): Promise<Taken[]> =>
  rows(
    db,
    takenSchema,
    `WITH taken AS (
       (SELECT material, number, gauge, made_at FROM revisions WHERE gauge->>'method' = 'modules' ORDER BY made_at DESC LIMIT ${NEWEST})
       UNION
       SELECT r.material, r.number, r.gauge, r.made_at FROM materials m JOIN revisions r ON r.material = m.id AND r.number = m.revision
        WHERE m.line = ANY ($1::uuid[]) AND m.deleted_at IS NULL AND r.gauge->>'method' = 'modules')
     SELECT t.material, m.line, u.name AS supplier, m.family, t.gauge
       FROM taken t JOIN materials m ON m.id = t.material AND m.revision = t.number AND m.deleted_at IS NULL
       JOIN sources s ON s.id = m.source LEFT JOIN suppliers u ON u.id = s.supplier
      ORDER BY t.made_at DESC, t.material`,
    [lines],
  );

const alikeSchema = z.object({ picture: z.string(), material: z.string() });

/** Of each picture, sized materials whose own is near it, the nearest first. @param pictures hashes of base color maps */
const listAlike = (db: Db, pictures: string[]) =>
  rows(
    db,
    alikeSchema,
    `SELECT own.sha256 AS picture, m.id AS material FROM picture_figures own
      CROSS JOIN LATERAL (SELECT f.sha256, f.figures <-> own.figures AS far FROM picture_figures f
        ORDER BY f.figures <-> own.figures LIMIT ${NEAREST}) near
      JOIN maps a ON a.sha256 = near.sha256 AND a.role = 'base_color'
      JOIN materials m ON m.id = a.material AND m.revision = a.revision AND m.deleted_at IS NULL
      JOIN revisions r ON r.material = m.id AND r.number = m.revision AND r.gauge->>'method' = 'modules'
     WHERE own.sha256 = ANY ($1) AND near.far < ${FAR} ORDER BY near.far, m.id`,
    [pictures],
  );

const siblingSchema = z.object({
  line: z.string(),
  id: z.string(),
  name: z.string(),
  repeat: z.object({ width: z.number(), height: z.number() }),
  image: z.object({ width: z.number(), height: z.number() }),
});

/** Of each line, the material that was sized last without counting. @param lines their ids */
const listSizedSiblings = (db: Db, lines: string[]) =>
  rows(
    db,
    siblingSchema,
    `SELECT DISTINCT ON (m.line) m.line, m.id, m.name,
       jsonb_build_object('width', r.repeat_width_mm, 'height', r.repeat_height_mm) AS repeat,
       jsonb_build_object('width', i.width, 'height', i.height) AS image
     FROM materials m JOIN revisions r ON r.material = m.id AND r.number = m.revision
     JOIN maps a ON a.material = m.id AND a.revision = m.revision AND a.role = 'base_color' JOIN images i USING (sha256)
     WHERE m.line = ANY ($1::uuid[]) AND m.deleted_at IS NULL AND r.size_state = 'known' AND r.gauge->>'method' IS DISTINCT FROM 'modules'
     ORDER BY m.line, r.made_at DESC, m.id`,
    [lines],
  );

/** What others say about the sizes of some materials. */
export async function findKin(
  db: Db,
  materials: MaterialRow[],
): Promise<(material: MaterialRow) => Pick<SizeEvidence, "used" | "sibling">> {
  const lines = [...new Set(materials.flatMap(({ lineId }) => lineId ?? []))];
  const pictureOf = ({ maps }: MaterialRow) => maps.find(({ role }) => role === "base_color")?.sha256;
  const pictures = materials.flatMap((material) => pictureOf(material) ?? []);
  const [taken, siblings, alike] = await Promise.all([
    listTaken(db, lines),
    listSizedSiblings(db, lines),
    listAlike(db, pictures),
  ]);
  return (material) => {
    // Courses of bricks and boards may look alike, and lie alike.
    const possible = taken.filter(
      (one) => one.material !== material.id && mayShareModules(one.family, material.family),
    );
    /** Of those that were taken last, what looks like it. */
    const lookingLike = (): UsedModule[] => {
      const near = alike.filter(({ picture }) => picture === pictureOf(material));
      const known = near.flatMap((one) => possible.find((other) => other.material === one.material) ?? []);
      return eachModuleOnce(known).map((module) => ({ module, by: "alike" }));
    };
    const of = (by: Exclude<UsedModule["by"], "alike">, value: string | null) =>
      value === null
        ? []
        : eachModuleOnce(possible.filter((one) => one[by] === value)).map((module) => ({ module, by }));
    const sibling = siblings.find(({ line, id }) => line === material.lineId && id !== material.id);
    return {
      used: [
        ...of("line", material.lineId),
        ...lookingLike(),
        ...of("supplier", material.source.supplier),
        ...of("family", material.family),
      ],
      ...(sibling && { sibling }),
    };
  };
}

function eachModuleOnce(taken: Taken[]): Module[] {
  const modules = new Map<string, Module>();
  for (const { gauge } of taken) {
    if (modules.size === MOST_USED) break;
    // What a piece measures lying is what it measures standing.
    const { width, height } = gauge.coverSize ?? gauge.workSize ?? {};
    const key = JSON.stringify([...[width ?? 0, height ?? 0].sort((a, b) => a - b), gauge.joint ?? 0]);
    if (!modules.has(key)) modules.set(key, gauge);
  }
  return [...modules.values()];
}
