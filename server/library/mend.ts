import { Readable } from "node:stream";
import { worstEdge } from "#core/judge/seams";
import { mendWords, type MendRecipe } from "#core/mend/recipe";
import { isColorRole } from "#core/maps/roles";
import { database, inTransaction } from "#server/db/database";
import { findImage, insertFile, type ImageRow } from "#server/db/files";
import { findMaterial, saveRevision, type MaterialRow, type NewMap } from "#server/db/materials";
import { endMend, findMend, insertMend, type MendFigures, type MendRow } from "#server/db/mends";
import type { Person } from "#server/db/people";
import { announce } from "#server/events/events";
import { fileStore } from "#server/files/store";
import { pixels } from "#server/images/pixelPool";
import { keepPreviews, studyFile } from "#server/intake/studyFile";
import { addJob } from "#server/jobs/queue";
import { conflict, notFound, Problem } from "#server/problem";

const LIMITS = { seconds: 600, mebibytes: 8192 };

/** Asks for a mend, as a job. @throws {Problem} where there is nothing to mend or one is under way. */
export async function startMend(id: string, recipe: MendRecipe, person: Person): Promise<MendRow> {
  return inTransaction(async (db) => {
    const material = await findMaterial(db, id);
    if (!material) throw notFound("material");
    if (mapsFor(recipe, material).length === 0)
      throw new Problem(422, "Nothing to mend", "This material has no map that this would change.");
    if (recipe.kind === "seams" && material.layout !== "repeating")
      throw new Problem(422, "Nothing to mend", "Only a material that repeats has seams.");
    const mend = await insertMend(db, {
      material: id,
      revision: material.revision,
      recipe,
      person: person.id,
    });
    await addJob(db, "mend-material", { mend });
    await announce(db, { topic: "library", id });
    return (await findMend(db, mend))!;
  });
}

/** Maps that a recipe changes: all that lie over each other for seams, the base color alone for evening out. */
function mapsFor(recipe: MendRecipe, material: MaterialRow) {
  return material.maps.filter(({ role }) =>
    recipe.kind === "seams" ? role !== "reference" && role !== "environment" : role === "base_color",
  );
}

/** Carries a mend out and saves it as a new revision. Does nothing where it was carried out before. */
export async function runMend(id: string): Promise<void> {
  const mend = await findMend(database(), id);
  if (!mend || mend.toRevision !== null || mend.failure !== null) return;
  const material = await findMaterial(database(), mend.material, mend.fromRevision);
  if (!material) return failMend(id, "The material is no longer in the library.");
  const changed = mapsFor(mend.recipe, material);
  const files = new Map<string, { path: string; format: string; values: "srgb" | "data" | "normal" }>();
  for (const map of changed) {
    const image = (await findImage(database(), map.sha256))!;
    const color = isColorRole(map.role) && map.channel === "color";
    files.set(map.sha256, {
      path: fileStore().path(map.sha256),
      format: image.format,
      values: map.role === "geometry_normal" ? "normal" : color ? "srgb" : "data",
    });
  }
  const hashes = [...files.keys()];
  const mended = await pixels.mend({ recipe: mend.recipe, files: [...files.values()] });
  const replaced = new Map<string, string>();
  for (const [i, data] of mended.files.entries()) {
    const kept = await fileStore().keep(Readable.from([Buffer.from(data)]));
    await insertFile(database(), { ...kept, mediaType: "image/png" });
    await studyFile(kept.sha256, LIMITS);
    replaced.set(hashes[i], kept.sha256);
  }
  const maps = await Promise.all(material.maps.map((map) => derivedMap(map, replaced)));
  await save(mend, material, maps, { overlap: mended.overlap, scale: mended.scale });
}

async function derivedMap(map: MaterialRow["maps"][number], replaced: Map<string, string>): Promise<NewMap> {
  const { role, channel, fileName, normalDirection } = map;
  const sha256 = replaced.get(map.sha256);
  if (!sha256) return { role, sha256: map.sha256, channel, fileName, normalDirection };
  const image = (await findImage(database(), sha256))!;
  const data = !isColorRole(role) || channel !== "color";
  if (channel !== "color" || (data && image.shown_as === "color"))
    await keepPreviews(sha256, image.format, channel, data ? "data" : "color");
  return { role, sha256, channel, fileName, normalDirection };
}

async function save(
  mend: MendRow,
  material: MaterialRow,
  maps: NewMap[],
  made: { overlap: { across: number; down: number }; scale: { width: number; height: number } },
): Promise<void> {
  const { repeat } = material;
  const before = await figuresOf(material.maps);
  const after = await figuresOf(maps);
  const figures: MendFigures = { before, after, overlap: made.overlap };
  await inTransaction(async (db) => {
    const saved = await saveRevision(
      db,
      { id: material.id, seen: mend.fromRevision, person: mend.personId },
      {
        // What was cut off covered a part of the surface: density stays, and the repeat gets shorter.
        repeat: repeat && {
          width: repeat.width * made.scale.width,
          height: repeat.height * made.scale.height,
        },
        sizeState: material.sizeState,
        gauge: material.gauge,
        finish: material.finish,
        findings: material.findings.filter(({ code }) => code !== "seam" || after.seam >= before.seam),
        note: mendWords(mend.recipe),
        maps,
      },
    );
    await endMend(
      db,
      mend.id,
      saved === undefined
        ? { failure: "Somebody saved the material in the meantime. Mend it again." }
        : { toRevision: saved, figures },
    );
    await announce(db, { topic: "library", id: material.id });
  });
}

/** Figures of the base color, or of the first map. */
async function figuresOf(maps: { role: string; sha256: string }[]): Promise<MendFigures["before"]> {
  const base = maps.find(({ role }) => role === "base_color") ?? maps[0];
  const image: ImageRow | undefined = await findImage(database(), base.sha256);
  return {
    seam: image?.reading ? worstEdge(image.reading.seams).score : 0,
    giveaway: image?.repetition?.giveaway ?? 0,
  };
}

export async function failMend(id: string, failure: string): Promise<void> {
  const mend = await findMend(database(), id);
  if (!mend) throw conflict("There is no such mend.");
  await endMend(database(), id, { failure });
  await announce(database(), { topic: "library", id: mend.material });
}
