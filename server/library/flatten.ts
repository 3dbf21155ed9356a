import { Readable } from "node:stream";
import { DEFAULT_FINISH } from "#core/finish/finish";
import { formatSize } from "#core/length/formatLength";
import { HomographyError } from "#core/photo/homography";
import type { FlattenRecipe } from "#core/photo/recipe";
import { checkRegion, flattening, RegionError } from "#core/photo/region";
import { database, inTransaction } from "#server/db/database";
import { findImage, insertFile } from "#server/db/files";
import {
  endFlattening,
  findFlattening,
  insertFlattening,
  setFlatteningShare,
  type FlatteningRow,
} from "#server/db/flattenings";
import { licenceOf } from "#server/db/facts";
import { findMaterial, insertMaterial, type MaterialRow } from "#server/db/materials";
import type { Person } from "#server/db/people";
import { announce } from "#server/events/events";
import { fileStore } from "#server/files/store";
import { pool } from "#server/pool/pool";
import type { FlattenedPhoto, FlattenTask } from "#server/images/flattenPhoto";
import { studyFile } from "#server/intake/studyFile";
import { addJob } from "#server/jobs/queue";
import { badField, notFound } from "#server/problem";
import { log } from "#server/log";

const LIMITS = { seconds: 600, mebibytes: 8192 };
const TOLD_EVERY_MS = 700;

/** Asks for a region of a photograph as a material of its own. @throws {Problem} by the field that cannot be true */
export async function startFlattening(
  photo: string,
  recipe: FlattenRecipe,
  person: Person,
): Promise<FlatteningRow> {
  return inTransaction(async (db) => {
    const material = await findMaterial(db, photo);
    if (!material) throw notFound("material");
    checkRecipe(recipe, photoOf(material));
    for (const [i, { material: id }] of recipe.patches.entries())
      await checkFill(id, `/patches/${i}/material`);
    const id = await insertFlattening(db, { photo, revision: material.revision, recipe, person: person.id });
    await addJob(db, "flatten-photo", { flattening: id });
    await announce(db, { topic: "library", id: photo });
    return (await findFlattening(db, id))!;
  });
}

/** The picture that is flattened. @throws {Problem} where there is none */
function photoOf({ maps, name }: Pick<MaterialRow, "maps" | "name">) {
  const photo = maps.find(({ role, channel }) => role === "base_color" && channel === "color");
  if (!photo) throw badField("/photo", `${name} has no picture that could be flattened.`);
  return photo;
}

function checkRecipe(recipe: FlattenRecipe, photo: { width: number; height: number }): void {
  try {
    checkRegion(recipe, photo);
    flattening(recipe, photo);
  } catch (error) {
    if (error instanceof RegionError) throw badField(`/${error.field}`, error.message);
    if (error instanceof HomographyError) throw badField("/corners", error.message);
    throw error;
  }
}

async function checkFill(id: string | undefined, pointer: string): Promise<void> {
  if (id === undefined) return;
  const fill = await findMaterial(database(), id);
  if (!fill) throw badField(pointer, `There is no material with the id “${id}”.`);
  photoOf(fill);
  if (!fill.repeat) throw badField(pointer, `The size of ${fill.name} is unknown: find it first.`);
}

/** Flattens a region and puts the material it makes into the library. Does nothing where that was done before. */
export async function runFlattening(id: string): Promise<void> {
  const asked = await findFlattening(database(), id);
  if (!asked || asked.made !== null || asked.failure !== null) return;
  const material = await findMaterial(database(), asked.photo, asked.photoRevision);
  if (!material) return failFlattening(id, "The photograph is no longer in the library.");
  const { recipe } = asked;
  const fills: FlattenTask["fills"] = {};
  for (const { material: fill } of recipe.patches) {
    if (fill === undefined || fills[fill]) continue;
    const found = await findMaterial(database(), fill);
    if (!found?.repeat)
      return failFlattening(id, "The material that patches are filled with is no longer in the library.");
    fills[fill] = { ...(await fileOf(photoOf(found).sha256)), repeat: found.repeat };
  }
  const photo = await fileOf(photoOf(material).sha256);
  const { file, figures } = await told(id, material.id, { photo, recipe, fills });
  const kept = await fileStore().keep(Readable.from([Buffer.from(file)]));
  await insertFile(database(), { ...kept, mediaType: "image/png" });
  await studyFile(kept.sha256, LIMITS);
  const { window } = figures;
  await inTransaction(async (db) => {
    const made = await insertMaterial(
      db,
      {
        name: recipe.name,
        kind: "material",
        layout: recipe.layout,
        madeFrom: material.id,
        source: { licence: await licenceOf(db, material.id) },
        person: asked.personId,
      },
      {
        repeat: { width: window.width, height: window.height },
        sizeState: "known",
        gauge: {
          method: "flattened",
          photo: material.id,
          width: recipe.width,
          height: recipe.height,
          errorPercent: errorOf(recipe, figures.residuals),
          by: asked.person,
        },
        finish: DEFAULT_FINISH,
        findings: [
          {
            level: "note",
            code: "derived",
            message: `Flattened from ${material.code} ${material.name}: ${formatSize(window)} in ${figures.width} × ${figures.height} px.`,
          },
        ],
        note: `Flattened from ${material.code} ${material.name}`,
        maps: [
          {
            role: "base_color",
            sha256: kept.sha256,
            channel: "color",
            fileName: "flattened.png",
            normalDirection: null,
          },
        ],
      },
    );
    // Somebody else ended it meanwhile, after a crash: then nothing is made twice.
    if (!(await endFlattening(db, id, { made, figures }))) throw new Error("It was ended by another worker.");
    await announce(db, { topic: "library", id: made });
    await announce(db, { topic: "library", id: material.id });
  });
}

/** How far off the control points lie against the whole, in percent. */
function errorOf({ width, height }: FlattenRecipe, residuals: number[]): number {
  return (100 * Math.max(0, ...residuals)) / Math.hypot(width, height);
}

async function fileOf(sha256: string) {
  return { path: fileStore().path(sha256), format: (await findImage(database(), sha256))!.format };
}

/** Carries the task out in the pool, and keeps how far it is for whoever looks on. */
async function told(id: string, photo: string, task: FlattenTask): Promise<FlattenedPhoto> {
  let last = 0;
  return pool.flattenPhoto(task, {
    told(share) {
      if (Date.now() - last < TOLD_EVERY_MS) return;
      last = Date.now();
      setFlatteningShare(database(), id, share as number)
        .then(() => announce(database(), { topic: "library", id: photo }))
        .catch((error: Error) => log.error({ err: error }, "progress of a flattening"));
    },
  });
}

export async function failFlattening(id: string, failure: string): Promise<void> {
  const asked = await findFlattening(database(), id);
  if (!asked) return;
  await endFlattening(database(), id, { failure });
  await announce(database(), { topic: "library", id: asked.photo });
}
