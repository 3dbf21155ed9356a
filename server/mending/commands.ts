import { type MendRecipe, isMaking, isQuarterTurn } from "#core/mend/recipe";
import type { Person } from "#server/auth/person";
import { inTransaction, type Db } from "#server/db/database";
import { announce } from "#server/events/events";
import { addJob } from "#server/jobs/queue";
import { findMaterial, type MaterialRow } from "#server/material/queries";
import { checkMaking } from "#server/mending/makeMissing";
import { type MendRow, findMend } from "#server/mending/queries";
import { saveMend } from "#server/mending/saveMend";
import { insertMend, endMend, NOT_KEPT } from "#server/mending/writes";
import { Problem, notFound, conflict } from "#server/problem";

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
export function mapsFor(recipe: MendRecipe, material: MaterialRow) {
  return material.maps.filter(({ role }) =>
    recipe.kind === "even-out" ? role === "base_color" : role !== "reference" && role !== "environment",
  );
}

/** Keeps a mend that was looked at. @throws {Problem} where none waits */
export async function keepMend(material: string, id: string, person: Person): Promise<MendRow> {
  return inTransaction(async (db) => {
    const mend = await keepMendIn(db, await waitingMend(db, material, id), person.id);
    await announce(db, { topic: "library", id: material });
    return mend;
  });
}

/** Keeps a mend that has a proposal. @returns it, with the failure where somebody has saved the material meanwhile */
export async function keepMendIn(db: Db, mend: MendRow, person: string): Promise<MendRow> {
  const from = await findMaterial(db, mend.material, mend.fromRevision);
  if (!from) throw notFound("material");
  await saveMend(db, mend, from, mend.proposal!, person);
  return (await findMend(db, mend.id))!;
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
