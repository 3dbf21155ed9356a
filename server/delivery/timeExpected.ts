import { z } from "zod";
import { makingCost } from "#core/convert/imageCost";
import type { MaterialPlan, PlannedFile } from "#core/convert/materialPlan";
import { plannedFileSchema } from "#core/convert/planSchema";
import { type Db, oneRow } from "#server/db/database";
import { imageRecipe } from "#server/delivery/recipe";

/** Before anything was made here: cost a second, as two cores of an office machine make it. */
const USUAL_RATE = 30e6;
/** As many deliveries tell how quick this machine is. */
const REMEMBERED = 20;
/** As many images are looked up, spread over all. */
const SAMPLED = 500;

/** About how many seconds the images of some plans take to be made, without those that were made before. */
export async function secondsExpected(db: Db, plans: readonly MaterialPlan[]): Promise<number> {
  const images = plans.flatMap(({ files, material }) =>
    files.map((file) => ({ file, wrap: material.layout === "repeating" })),
  );
  const sample = spread(images, SAMPLED).map(({ file, wrap }) => ({
    recipe: imageRecipe(asKept(file), wrap),
    cost: makingCost(file),
  }));
  const made = await madeAmong(
    db,
    sample.map(({ recipe }) => recipe),
  );
  const [all, left] = [sumOf(sample), sumOf(sample.filter(({ recipe }) => !made.has(recipe)))];
  if (all === 0) return 0;
  const whole = images.reduce((sum, { file }) => sum + makingCost(file), 0);
  return (whole * (left / all)) / (await rateHere(db));
}

/** Some of a list, by no period of their own: a material's images come in the same order each time, and its profiles too. */
function spread<T>(list: readonly T[], most: number): readonly T[] {
  if (list.length <= most) return list;
  return Array.from({ length: most }, (_, i) => list[Math.floor(((i * GOLDEN) % 1) * list.length)]);
}
const GOLDEN = (Math.sqrt(5) - 1) / 2;

/** As a run reads it back from the database, which its recipe is made of. */
const asKept = (file: PlannedFile): PlannedFile =>
  plannedFileSchema.parse(JSON.parse(JSON.stringify(file))) as PlannedFile;

const sumOf = (list: readonly { cost: number }[]) => list.reduce((sum, { cost }) => sum + cost, 0);

async function madeAmong(db: Db, recipes: string[]): Promise<Set<string>> {
  const row = await oneRow(
    db,
    z.object({ recipes: z.array(z.string()) }),
    "SELECT COALESCE(array_agg(recipe), '{}') AS recipes FROM derived_files WHERE recipe = ANY($1)",
    [recipes],
  );
  return new Set(row!.recipes);
}

async function rateHere(db: Db): Promise<number> {
  const row = await oneRow(
    db,
    z.object({ cost: z.number(), seconds: z.number() }),
    `SELECT COALESCE(sum(made_cost), 0) AS cost, COALESCE(sum(made_seconds), 0) AS seconds
     FROM (SELECT made_cost, made_seconds FROM deliveries WHERE made_seconds > 0 ORDER BY ended_at DESC NULLS LAST LIMIT $1) last`,
    [REMEMBERED],
  );
  return row!.seconds > 0 ? row!.cost / row!.seconds : USUAL_RATE;
}
