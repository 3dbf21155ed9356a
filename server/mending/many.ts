import { z } from "zod";
import { mendRecipeSchema, type MendRecipe } from "#core/mend/recipe";
import { SEAM_LOOK, type SeamReading } from "#core/judge/seams";
import { DIRECTIONS } from "#core/raster/directions";
import type { Person } from "#server/auth/person";
import { database, rows, type Db } from "#server/db/database";
import { listReadings } from "#server/images/queries";
import { findMaterialStates } from "#server/material/queries";
import { startMend } from "#server/mending/commands";
import { mendFiguresSchema } from "#server/mending/queries";
import { Problem } from "#server/problem";

/** So many may be mended in one act: each is looked at afterwards. */
export const MOST_MENDS = 300;

type ManyRecipe = Extract<MendRecipe, { kind: "seams" | "even-out" }>;

/** As it is meant where nobody says more. */
export const manyRecipe = (kind: ManyRecipe["kind"]): ManyRecipe =>
  mendRecipeSchema.parse({ kind }) as ManyRecipe;

export interface StartedMends {
  started: number;
  /** What shows no seam is left as it is. */
  fine: number;
  refused: { id: string; name: string; reason: string }[];
}

/** Has many mended, each by a job; what comes of it waits to be looked at. What shows no seam is not mended by its seams. */
export async function startMends(
  ids: readonly string[],
  recipe: ManyRecipe,
  person: Person,
): Promise<StartedMends> {
  const db = database();
  const materials = await findMaterialStates(
    db,
    ids.map((id) => ({ id, revision: null })),
  );
  const bases = materials.map(({ maps }) => maps.find(({ role }) => role === "base_color")?.sha256);
  const readings = await listReadings(
    db,
    bases.filter((sha256) => sha256 !== undefined),
  );
  const done: StartedMends = { started: 0, fine: 0, refused: [] };
  for (const [i, { id, name }] of materials.entries()) {
    const seams = readings.find(({ sha256 }) => sha256 === bases[i])?.reading?.seams;
    if (recipe.kind === "seams" && seams && DIRECTIONS.every((one) => seams[one].broken < SEAM_LOOK)) {
      done.fine++;
      continue;
    }
    try {
      await startMend(id, recipe, person, true);
      done.started++;
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      done.refused.push({ id, name, reason: error.detail });
    }
  }
  return done;
}

const pictureSchema = z.object({
  sha256: z.string(),
  width: z.number(),
  height: z.number(),
  /** Not there in what was read before seams were measured as they are now. */
  seams: z.custom<SeamReading>().nullable(),
});

export const openMendShape = z.object({
  id: z.string(),
  material: z.object({ id: z.string(), name: z.string(), revision: z.number() }),
  recipe: mendRecipeSchema,
  fromRevision: z.number(),
  failure: z.string().nullable(),
  /** Its base color as it is, and as it would be; the second once it is made. */
  before: pictureSchema.nullable(),
  after: pictureSchema.nullable(),
  figures: mendFiguresSchema.nullable(),
  person: z.string(),
});

/** A mend that runs, waits to be looked at, or failed lately. */
export type OpenMend = z.infer<typeof openMendShape>;

const picture = (sha256: string) =>
  `(SELECT jsonb_build_object('sha256', i.sha256, 'width', i.width, 'height', i.height, 'seams', i.reading->'seams') FROM images i WHERE i.sha256 = ${sha256})`;

/** As many as one act may mend, the newest first. Those that failed are told for a day. */
export const listOpenMends = (db: Db): Promise<OpenMend[]> =>
  rows(
    db,
    openMendShape,
    `SELECT n.id, jsonb_build_object('id', m.id, 'name', m.name, 'revision', m.revision) AS material, n.recipe,
       n.from_revision AS "fromRevision", n.failure, p.name AS person, n.proposal->'figures' AS figures,
       (SELECT ${picture("a.sha256")} FROM maps a
         WHERE a.material = m.id AND a.revision = n.from_revision AND a.role = 'base_color') AS before,
       (SELECT ${picture("a->>'sha256'")} FROM jsonb_array_elements(n.proposal->'maps') a
         WHERE a->>'role' = 'base_color') AS after
     FROM mends n JOIN materials m ON m.id = n.material JOIN people p ON p.id = n.person
     WHERE n.to_revision IS NULL AND m.deleted_at IS NULL AND m.merged_into IS NULL AND n.look_first
       AND (n.failure IS NULL OR (n.asked_at > now() - interval '1 day' AND n.proposal IS NULL))
     ORDER BY n.asked_at DESC, n.id LIMIT ${MOST_MENDS}`,
  );
