import { HomographyError } from "#core/photo/homography";
import type { FlattenRecipe } from "#core/photo/recipe";
import { flattening, checkRegion, RegionError } from "#core/photo/region";
import type { Person } from "#server/auth/person";
import { inTransaction, database } from "#server/db/database";
import { announce } from "#server/events/events";
import { type FlatteningRow, findFlattening } from "#server/flattening/queries";
import { insertFlattening } from "#server/flattening/writes";
import { addJob } from "#server/jobs/queue";
import { findMaterial, type MaterialRow } from "#server/material/queries";
import { notFound, badField } from "#server/problem";

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
export function photoOf({ maps, name }: Pick<MaterialRow, "maps" | "name">) {
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
