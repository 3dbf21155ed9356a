import type { Repeat } from "#core/length/repeat";
import { finding } from "#core/findings/finding";
import { Readable } from "node:stream";
import { DEFAULT_FINISH } from "#core/finish/finish";
import type { FlattenRecipe } from "#core/photo/recipe";
import { database, inTransaction } from "#server/db/database";
import { announce, announceStep } from "#server/events/events";
import { photoOf } from "#server/flattening/commands";
import { findFlattening } from "#server/flattening/queries";
import { endFlattening, setFlatteningShare } from "#server/flattening/writes";
import { findImage } from "#server/images/queries";
import { studyFile } from "#server/images/studyFile";
import { licenceOf } from "#server/licence/queries";
import { log } from "#server/log";
import { findMaterial } from "#server/material/queries";
import { insertMaterial } from "#server/material/writes";
import type { FlattenTask, FlattenedPhoto } from "#server/pixels/flattenPhoto";
import { pool } from "#server/pool/pool";
import { insertFile } from "#server/store/sql";
import { fileStore } from "#server/store/store";

const LIMITS = { seconds: 600, mebibytes: 8192 };

const TOLD_EVERY_MS = 700;

/** Flattens a region and puts the material it makes into the library. Does nothing where that was done before. */
export async function runFlattening(id: string): Promise<void> {
  const asked = await findFlattening(database(), id);
  if (!asked || asked.made !== null || asked.failure !== null) return;
  const material = await findMaterial(database(), asked.photo, asked.photoRevision);
  if (!material) return failFlattening(id, "The photograph is no longer in the library.");
  const { recipe } = asked;
  const fills: Record<string, { sha256: string; format: string; repeat: Repeat }> = {};
  for (const { material: fill } of recipe.patches) {
    if (fill === undefined || fills[fill]) continue;
    const found = await findMaterial(database(), fill);
    if (!found?.repeat)
      return failFlattening(id, "The material that patches are filled with is no longer in the library.");
    fills[fill] = { ...(await fileOf(photoOf(found).sha256)), repeat: found.repeat };
  }
  const photo = await fileOf(photoOf(material).sha256);
  const { file, figures } = await fileStore().withLocal(
    [photo, ...Object.values(fills)].map(({ sha256 }) => sha256),
    (pathOf) => {
      const local = <T extends { sha256: string }>({ sha256, ...image }: T) => ({
        ...image,
        path: pathOf(sha256),
      });
      return told(id, material.id, {
        recipe,
        photo: local(photo),
        fills: Object.fromEntries(Object.entries(fills).map(([key, fill]) => [key, local(fill)])),
      });
    },
  );
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
          finding("flattened", {
            code: material.code,
            name: material.name,
            window,
            widthPx: figures.width,
            heightPx: figures.height,
          }),
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
  return { sha256, format: (await findImage(database(), sha256))!.format };
}

/** Carries the task out in the pool, and keeps how far it is for whoever looks on. */
async function told(id: string, photo: string, task: FlattenTask): Promise<FlattenedPhoto> {
  let last = 0;
  return pool.flattenPhoto(task, {
    told(share) {
      if (Date.now() - last < TOLD_EVERY_MS) return;
      last = Date.now();
      setFlatteningShare(database(), id, share as number)
        .then(() => announceStep(database(), { topic: "flattening", id: photo }))
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
