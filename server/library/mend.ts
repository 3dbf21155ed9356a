import { Readable } from "node:stream";
import { worstSeam } from "#core/judge/seams";
import { isMaking, isQuarterTurn, mendWords, type MendKind, type MendRecipe } from "#core/mend/recipe";
import { refuseBroken } from "#core/mend/refuseBroken";
import { isColorRole } from "#core/maps/roles";
import { database, inTransaction, type Db } from "#server/db/database";
import { findImage, insertFile, type ImageRow } from "#server/db/files";
import {
  findMaterial,
  saveRevision,
  type MaterialRow,
  type NewMap,
  type NewRevision,
} from "#server/db/materials";
import {
  endMend,
  findMend,
  insertMend,
  NOT_KEPT,
  proposeMend,
  type MendFigures,
  type MendProposal,
  type MendRow,
} from "#server/db/mends";
import type { Person } from "#server/db/people";
import { announce } from "#server/events/events";
import { fileStore } from "#server/files/store";
import { pool } from "#server/pool/pool";
import { studyFile } from "#server/intake/studyFile";
import type { MendTask } from "#server/images/mend";
import { measuredImage } from "#server/library/materials";
import { checkMaking, makeMissing } from "#server/library/makeMissing";
import { showAs } from "#server/library/showAs";
import { addJob } from "#server/jobs/queue";
import { conflict, notFound, Problem } from "#server/problem";

const LIMITS = { seconds: 600, mebibytes: 8192 };

/**
 * Asks for a mend, as a job. With `lookFirst` it waits to be kept or dropped once it is done; a mend that was waiting so is dropped.
 * @throws {Problem} where there is nothing to mend or one is under way
 */
export async function startMend(
  id: string,
  recipe: MendRecipe,
  person: Person,
  lookFirst = false,
): Promise<MendRow> {
  return inTransaction(async (db) => {
    const material = await findMaterial(db, id);
    if (!material) throw notFound("material");
    if (isMaking(recipe)) checkMaking(recipe, material);
    else if (mapsFor(recipe, material).length === 0)
      throw new Problem(422, "Nothing to mend", "This material has no map that this would change.");
    if (recipe.kind !== "even-out" && !isQuarterTurn(recipe) && material.layout !== "repeating")
      throw new Problem(422, "Nothing to mend", "This is for materials that repeat.");
    const mend = await insertMend(db, {
      material: id,
      revision: material.revision,
      recipe,
      person: person.id,
      lookFirst,
    });
    await addJob(db, "mend-material", { mend });
    await announce(db, { topic: "library", id });
    return (await findMend(db, mend))!;
  });
}

/** Maps that a recipe changes: all that lie over each other, or the base color alone for evening out. */
function mapsFor(recipe: MendRecipe, material: MaterialRow) {
  return material.maps.filter(({ role }) =>
    recipe.kind === "even-out" ? role === "base_color" : role !== "reference" && role !== "environment",
  );
}

/** Carries a mend out, and saves it as a new revision or holds it to be looked at. Does nothing where it was carried out before. */
export async function runMend(id: string): Promise<void> {
  const mend = await findMend(database(), id);
  if (!mend || mend.toRevision !== null || mend.failure !== null || mend.proposal) return;
  const material = await findMaterial(database(), mend.material, mend.fromRevision);
  if (!material) return failMend(id, "The material is no longer in the library.");
  const { recipe } = mend;
  if (isMaking(recipe)) return settle(mend, material, await makeMissing(recipe, material));
  const changed = mapsFor(recipe, material);
  const files = new Map<string, MendTask["files"][number]>();
  for (const map of changed) {
    const image = (await findImage(database(), map.sha256))!;
    const color = isColorRole(map.role) && map.channel === "color";
    files.set(map.sha256, {
      path: fileStore().path(map.sha256),
      format: image.format,
      values: map.role === "geometry_normal" ? "normal" : color ? "srgb" : "data",
      ...(map.normalDirection && { normalDirection: map.normalDirection }),
    });
  }
  const hashes = [...files.keys()];
  const size = material.repeat ?? measuredImage(material);
  const mended = await pool.mend({
    recipe,
    files: [...files.values()],
    repeat: { width: size.width, height: size.height },
  });
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

async function derivedMap(
  map: MaterialRow["maps"][number],
  sha256: string | undefined,
  kind: MendKind,
): Promise<NewMap> {
  const { role, channel, fileName, normalDirection, derived } = map;
  if (!sha256) return { role, sha256: map.sha256, channel, fileName, normalDirection, derived };
  await showAs(sha256, role, channel);
  return { role, sha256, channel, fileName, normalDirection, derived: [...derived, kind] };
}

/** What a mend comes to. */
export interface MendOutcome extends Pick<NewRevision, "maps" | "repeat" | "finish" | "findings"> {
  overlap: MendFigures["overlap"];
  modules?: MendFigures["modules"];
}

async function settle(mend: MendRow, material: MaterialRow, outcome: MendOutcome): Promise<void> {
  const { maps, repeat, finish, findings, overlap, modules } = outcome;
  const before = await figuresOf(material.maps);
  const after = await figuresOf(maps);
  const figures: MendFigures = { before, after, overlap, ...(modules && { modules }) };
  const proposal = { maps, repeat, finish, findings, figures };
  await inTransaction(async (db) => {
    if (mend.lookFirst) await proposeMend(db, mend.id, proposal);
    else await save(db, mend, material, proposal, mend.personId);
    await announce(db, { topic: "library", id: material.id });
  });
}

/** Saves what a mend came to as a new revision. */
async function save(
  db: Db,
  mend: MendRow,
  material: MaterialRow,
  { maps, repeat, finish, findings, figures }: MendProposal,
  person: string,
): Promise<void> {
  const { sizeState, gauge } = material;
  const { before, after } = figures;
  const isAsCounted =
    repeat === null ||
    (mend.recipe.kind !== "turn" &&
      repeat.width === material.repeat?.width &&
      repeat.height === material.repeat.height);
  const saved = await saveRevision(
    db,
    { id: material.id, seen: mend.fromRevision, person },
    {
      repeat,
      sizeState,
      // What was counted or measured on the image before is not on this one.
      gauge: isAsCounted ? gauge : { method: "size", ...repeat },
      finish,
      findings: findings.filter(({ code }) => code !== "seam" || (after.broken ?? 0) >= (before.broken ?? 0)),
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
}

/** Keeps a mend that was looked at. @throws {Problem} where none waits */
export async function keepMend(material: string, id: string, person: Person): Promise<MendRow> {
  return inTransaction(async (db) => {
    const mend = await waitingMend(db, material, id);
    const from = await findMaterial(db, material, mend.fromRevision);
    if (!from) throw notFound("material");
    await save(db, mend, from, mend.proposal, person.id);
    await announce(db, { topic: "library", id: material });
    return (await findMend(db, id))!;
  });
}

/** Drops a mend that was looked at: nothing of the material changes. @throws {Problem} where none waits */
export async function dropMend(material: string, id: string): Promise<MendRow> {
  return inTransaction(async (db) => {
    await waitingMend(db, material, id);
    await endMend(db, id, { failure: NOT_KEPT });
    await announce(db, { topic: "library", id: material });
    return (await findMend(db, id))!;
  });
}

async function waitingMend(db: Db, material: string, id: string) {
  const mend = await findMend(db, id);
  if (!mend || mend.material !== material) throw notFound("mend");
  const { proposal, toRevision, failure } = mend;
  if (!proposal || toRevision !== null || failure !== null)
    throw conflict("This mend does not wait to be kept: it is still running, or was kept or dropped before.");
  return { ...mend, proposal };
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
