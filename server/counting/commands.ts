import { SEAM_LOOK, worstSeam } from "#core/judge/seams";
import { database } from "#server/db/database";
import { findImage } from "#server/images/queries";
import { findMaterial, type MaterialRow } from "#server/material/queries";
import { findModuleCount, keepModuleCount } from "#server/counting/sql";
import { announce } from "#server/events/events";
import { fileStore } from "#server/store/store";
import type { CountedModules } from "#server/pixels/countModules";
import { pool } from "#server/pool/pool";
import { addJob } from "#server/jobs/queue";

/** The picture in which modules are counted, and the height that helps. */
function countedMaps({ maps }: Pick<MaterialRow, "maps">) {
  const plain = maps.filter(({ channel }) => channel === "color");
  const base = plain.find(({ role }) => role === "base_color");
  return base && { base, height: plain.find(({ role }) => role === "height") };
}

/** What was counted; where nobody has yet, it is put into the queue, and null comes. Undefined where there is nothing to count. */
export async function askForModules(material: MaterialRow): Promise<CountedModules | null | undefined> {
  const maps = countedMaps(material);
  if (!maps || material.layout !== "repeating") return undefined;
  const found = await findModuleCount(database(), maps.base.sha256, maps.height?.sha256 ?? "");
  if (found) return found;
  await addJob(database(), "count-modules", { material: material.id });
  return null;
}

/** Keeps that a material's modules cannot be counted, so that nobody waits for it. */
export async function failModules(id: string): Promise<void> {
  const material = await findMaterial(database(), id);
  const maps = material && countedMaps(material);
  if (!maps) return;
  await keepModuleCount(database(), maps.base.sha256, maps.height?.sha256 ?? "", { failed: true });
  await announce(database(), { topic: "library", id });
}

/** Counts the modules of a material's picture. Does nothing where that was done before. */
export async function countModulesOf(id: string): Promise<void> {
  const material = await findMaterial(database(), id);
  const maps = material && countedMaps(material);
  if (!maps) return;
  const { base, height } = maps;
  if (await findModuleCount(database(), base.sha256, height?.sha256 ?? "")) return;
  const files = await Promise.all(
    [base, ...(height ? [height] : [])].map(async ({ sha256, role }) => ({
      sha256,
      format: (await findImage(database(), sha256))!.format,
      use: role === "base_color" ? ("color" as const) : ("data" as const),
    })),
  );
  const seams = (await findImage(database(), base.sha256))?.reading?.seams;
  const seamless = seams === undefined || worstSeam(seams).broken < SEAM_LOOK;
  const found = await fileStore().withLocal(
    files.map(({ sha256 }) => sha256),
    (pathOf) =>
      pool.countModules({
        files: files.map(({ sha256, ...file }) => ({ ...file, path: pathOf(sha256) })),
        seamless,
      }),
  );
  await keepModuleCount(database(), base.sha256, height?.sha256 ?? "", found);
  await announce(database(), { topic: "library", id });
}
