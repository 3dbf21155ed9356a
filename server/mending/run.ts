import { Readable } from "node:stream";
import { worstSeam } from "#core/judge/seams";
import { isMaking } from "#core/mend/recipe";
import { refuseBroken } from "#core/mend/refuseBroken";
import { isColorRole } from "#core/roles/roles";
import { database, inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { findImage, type ImageRow } from "#server/images/queries";
import { studyFile } from "#server/images/studyFile";
import { measuredImage } from "#server/material/commands";
import { findMaterial, type MaterialRow } from "#server/material/queries";
import { mapsFor } from "#server/mending/commands";
import { makeMissing } from "#server/mending/makeMissing";
import { findMend, type MendRow, type MendFigures } from "#server/mending/queries";
import { derivedMap, type MendOutcome, saveMend } from "#server/mending/saveMend";
import { proposeMend, endMend } from "#server/mending/writes";
import type { MendTask } from "#server/pixels/mendMap";
import { pool } from "#server/pool/pool";
import { conflict } from "#server/problem";
import { insertFile } from "#server/store/sql";
import { fileStore } from "#server/store/store";

const LIMITS = { seconds: 600, mebibytes: 8192 };

/** Carries a mend out, and saves it as a new revision or holds it to be looked at. Does nothing where it was carried out before. */
export async function runMend(id: string): Promise<void> {
  const mend = await findMend(database(), id);
  if (!mend || mend.toRevision !== null || mend.failure !== null || mend.proposal) return;
  const material = await findMaterial(database(), mend.material, mend.fromRevision);
  if (!material) return failMend(id, "The material is no longer in the library.");
  const { recipe } = mend;
  if (isMaking(recipe)) return settle(mend, material, await makeMissing(recipe, material));
  const changed = mapsFor(recipe, material);
  const files = new Map<string, Omit<MendTask["files"][number], "path">>();
  for (const map of changed) {
    const image = (await findImage(database(), map.sha256))!;
    const color = isColorRole(map.role) && map.channel === "color";
    files.set(map.sha256, {
      format: image.format,
      values: map.role === "geometry_normal" ? "normal" : color ? "srgb" : "data",
      ...(map.normalDirection && { normalDirection: map.normalDirection }),
    });
  }
  const hashes = [...files.keys()];
  const size = material.repeat ?? measuredImage(material);
  const mended = await fileStore().withLocal(hashes, (pathOf) =>
    pool.mend({
      recipe,
      files: hashes.map((sha256) => ({ path: pathOf(sha256), ...files.get(sha256)! })),
      repeat: { width: size.width, height: size.height },
    }),
  );
  const replaced = new Map<string, string>();
  for (const [i, data] of mended.files.entries()) {
    const kept = await fileStore().keep(Readable.from([Buffer.from(data)]));
    await insertFile(database(), { ...kept, mediaType: "image/png" });
    await studyFile(kept.sha256, LIMITS);
    replaced.set(hashes[i], kept.sha256);
  }
  const maps = await Promise.all(
    material.maps.map((map) => derivedMap(map, replaced.get(map.sha256), recipe.kind)),
  );
  if (recipe.kind === "seams" || recipe.kind === "crop")
    refuseBroken(recipe, await seamsOf(material.maps), await seamsOf(maps));
  const { overlap, scale, modules } = mended;
  const { repeat, finish } = material;
  await settle(mend, material, {
    maps,
    overlap,
    modules,
    finish,
    // What was cut off covered a part of the surface: density stays, and the repeat gets shorter.
    repeat: repeat && { width: repeat.width * scale.width, height: repeat.height * scale.height },
    findings: material.findings,
  });
}

async function settle(mend: MendRow, material: MaterialRow, outcome: MendOutcome): Promise<void> {
  const { maps, repeat, finish, findings, overlap, modules } = outcome;
  const before = await figuresOf(material.maps);
  const after = await figuresOf(maps);
  const figures: MendFigures = { before, after, overlap, ...(modules && { modules }) };
  const proposal = { maps, repeat, finish, findings, figures };
  await inTransaction(async (db) => {
    if (mend.lookFirst) await proposeMend(db, mend.id, proposal);
    else await saveMend(db, mend, material, proposal, mend.personId);
    await announce(db, { topic: "library", id: material.id });
  });
}

async function seamsOf(maps: { role: string; sha256: string }[]) {
  const base = maps.find(({ role }) => role === "base_color") ?? maps[0];
  return (await findImage(database(), base.sha256))?.reading?.seams;
}

/** Figures of the base color, or of the first map. */
async function figuresOf(maps: { role: string; sha256: string }[]): Promise<MendFigures["before"]> {
  const base = maps.find(({ role }) => role === "base_color") ?? maps[0];
  const image: ImageRow | undefined = await findImage(database(), base.sha256);
  return {
    broken: image?.reading?.seams ? worstSeam(image.reading.seams).broken : 0,
    giveaway: image?.repetition?.giveaway ?? 0,
  };
}

export async function failMend(id: string, failure: string): Promise<void> {
  const mend = await findMend(database(), id);
  if (!mend) throw conflict("There is no such mend.");
  await endMend(database(), id, { failure });
  await announce(database(), { topic: "library", id: mend.material });
}
