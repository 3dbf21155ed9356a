import { z } from "zod";
import { isSameVariant, listedChanges, variantOf, type ColorNow } from "#core/colorList/listedChanges";
import type { ListedEntry } from "#core/colorList/readList";
import { changedFinish, finishSchema } from "#core/finish/finish";
import { listTouchedProjects } from "#server/change/queries";
import { actingFor } from "#server/actor";
import { orRefused } from "#server/change/run";
import {
  countGone,
  findColorList,
  listItems,
  listKnown,
  lockColorList,
  noteListItem,
  setColorListState,
  setLineOf,
  type ColorListItem,
  type ColorListRow,
  type KnownColor,
} from "#server/colorList/sql";
import { database, inTransaction, type Db } from "#server/db/database";
import { announce, paced } from "#server/events/events";
import { hasFactChanges } from "#server/history/sql";
import { fillLater } from "#server/jobs/fillLater";
import { overtaken } from "#server/jobs/overtaken";
import { restoreIn, stateOf } from "#server/material/commands";
import { lockMaterial, type MaterialRow } from "#server/material/queries";
import {
  insertMaterial,
  markDeleted,
  saveRevision,
  updateFamilyAndTags,
  updateMaterial,
  updateSource,
  updateVariant,
} from "#server/material/writes";
import { Problem } from "#server/problem";
import { findLine, findOrInsertLine, findOrInsertSupplier } from "#server/supplier/writes";

/** So many at a time are there all together or not at all. */
const AT_ONCE = 40;

/** Makes what a list says, or takes that back, some at a time: what is broken off goes on where it was. */
export async function runColors(id: string): Promise<void> {
  const list = await findColorList(database(), id);
  if (list?.state !== "making" && list?.state !== "undoing") return;
  const tell = paced(() => announce(database(), { topic: "library", id }));
  const turn = list.state === "making" ? makeSome : undoSome;
  const person = list.state === "making" ? list.madeById : (list.undoneById ?? list.madeById);
  while (await actingFor(person, () => inTransaction((db) => turn(db, id)))) await tell();
  await inTransaction(async (db) => {
    await setColorListState(db, id, list.state === "making" ? "done" : "undone");
    await overtaken(db);
    await fillLater(db);
    await announce(db, { topic: "library", id });
  });
}

async function makeSome(db: Db, id: string): Promise<boolean> {
  const list = await lockColorList(db, id);
  if (list?.state !== "making") return false;
  const items = await listItems(db, id, ["waiting"], AT_ONCE);
  if (items.length === 0) return false;
  const supplier = await findOrInsertSupplier(db, list.supplier, null);
  // Who makes the same line meanwhile waits here: a code is of one material.
  const line = await findOrInsertLine(db, supplier, list.lineName);
  if (list.line === null) await setLineOf(db, id, line);
  const known = new Map(
    (
      await listKnown(
        db,
        line,
        items.map(({ code }) => code),
      )
    ).map((one) => [one.code, one]),
  );
  for (const item of items) {
    const there = known.get(item.code.toLowerCase());
    await orRefused(
      db,
      () => (there ? changeOne(db, list, item, there) : makeOne(db, list, item, { supplier, line })),
      (reason) => noteListItem(db, id, item.place, { state: "kept", said: reason }),
    );
  }
  return true;
}

async function makeOne(
  db: Db,
  list: ColorListRow,
  { place, code, listed }: ColorListItem,
  { supplier, line }: { supplier: string; line: string },
): Promise<void> {
  const { hex, roughness, name, page } = listed;
  const material = await insertMaterial(
    db,
    {
      ...{ name, kind: "material", layout: "plain", line, variant: variantOf(listed) },
      source: { supplier, product: name, productCode: code, page },
      person: list.madeById,
    },
    {
      ...{ repeat: null, sizeState: "unknown", gauge: null, findings: [], maps: [] },
      finish: finishSchema.parse({ color: hex, ...(roughness !== null && { roughness }) }),
      note: `From the list “${list.name}”, row ${listed.row}`,
    },
  );
  await updateFamilyAndTags(db, material, { family: listed.family });
  await noteListItem(db, list.id, place, { state: "made", said: "", material, after: { revision: 1 } });
}

const keptSchema = z.object({
  revision: z.number(),
  name: z.string(),
  page: z.string().nullable(),
  family: z.custom<ColorNow["family"]>(),
  variant: z.record(z.string(), z.string()),
});

async function changeOne(db: Db, list: ColorListRow, item: ColorListItem, there: KnownColor): Promise<void> {
  const material = await lockMaterial(db, there.id);
  const note = (told: Parameters<typeof noteListItem>[3]) => noteListItem(db, list.id, item.place, told);
  // It went while this was asked for.
  if (!material) return note({ state: "kept", said: "It was taken out of the library just now." });
  const { set, said, kept } = listedChanges(nowOf(material), there.listed ?? undefined, item.listed);
  if (changesPictures(material, set))
    return note({ state: "kept", material: material.id, said: HAS_PICTURES });
  if (said.length === 0)
    return note({ state: kept.length > 0 ? "kept" : "same", said: kept.join("; "), material: material.id });
  await updateMaterial(db, material.id, { name: set.name });
  if (set.variant) await updateVariant(db, material.id, set.variant);
  if (set.page !== undefined) await updateSource(db, material.id, { page: set.page });
  if (set.family) await updateFamilyAndTags(db, material.id, { family: set.family });
  let { revision } = material;
  const look = {
    ...(set.color && { color: set.color }),
    ...(set.roughness !== undefined && { roughness: set.roughness }),
  };
  if (Object.keys(look).length > 0) {
    const saved = await saveRevision(
      db,
      { id: material.id, seen: revision, person: list.madeById },
      {
        ...stateOf(material),
        finish: changedFinish(material.finish, look),
        note: `From the list “${list.name}”: ${said.join(", ")}`,
      },
    );
    if (saved === undefined) throw new Problem(409, "Conflict", "Somebody saved it just now.");
    revision = saved;
  }
  return note({
    ...{ state: "changed", material: material.id, said: [...said, ...kept].join("; ") },
    before: keptOf(material),
    after: {
      ...keptOf({ ...material, ...set }),
      revision,
      ...(set.page !== undefined && { page: set.page }),
    },
  });
}

const changesPictures = ({ layout }: Pick<MaterialRow, "layout">, set: Partial<ColorNow>) =>
  layout !== "plain" && (set.color !== undefined || set.roughness !== undefined);

const HAS_PICTURES = "It has pictures: its colour is theirs, and stays.";

const nowOf = (
  material: Pick<MaterialRow, "revision" | "name" | "family" | "variant" | "source" | "finish">,
): ColorNow => ({
  ...keptOf(material),
  ...{ color: material.finish.color ?? null, roughness: material.finish.roughness },
});

const keptOf = (material: Pick<MaterialRow, "revision" | "name" | "family" | "variant" | "source">) => ({
  ...{ revision: material.revision, name: material.name, page: material.source.page },
  ...{ family: material.family, variant: material.variant },
});

async function undoSome(db: Db, id: string): Promise<boolean> {
  const list = await lockColorList(db, id);
  if (list?.state !== "undoing") return false;
  const items = await listItems(db, id, ["made", "changed"], AT_ONCE);
  for (const item of items) {
    const keep = (said: string) => noteListItem(db, id, item.place, { state: "kept", said });
    await orRefused(db, () => undoOne(db, list, item, keep), keep);
  }
  return items.length > 0;
}

async function undoOne(
  db: Db,
  list: ColorListRow,
  { place, state, material: id, before, after }: ColorListItem,
  keep: (said: string) => Promise<void>,
): Promise<void> {
  const material = await lockMaterial(db, id!);
  if (!material) return keep("It has been taken out of the library since.");
  if (material.revision !== z.object({ revision: z.number() }).parse(after).revision)
    return keep("It has been changed since, and is left as it is.");
  if (state === "made") {
    if (await hasFactChanges(db, material.id, list.doneAt!))
      return keep("Its facts have been changed since, and it stays.");
    const [project] = await listTouchedProjects(db, [material.id]);
    if (project) return keep(`The project ${project.name} has it: it stays.`);
    await markDeleted(db, material.id, true);
  } else {
    const [was, became] = [keptSchema.parse(before), keptSchema.parse(after)];
    if (material.name === became.name) await updateMaterial(db, material.id, { name: was.name });
    if (material.source.page === became.page) await updateSource(db, material.id, { page: was.page });
    if (material.family === became.family) await updateFamilyAndTags(db, material.id, { family: was.family });
    if (isSameVariant(material.variant, became.variant)) await updateVariant(db, material.id, was.variant);
    if (was.revision !== became.revision)
      await restoreIn(db, material, was.revision, { id: list.undoneById ?? list.madeById });
  }
  await noteListItem(db, list.id, place, { state: "undone", said: "" });
}

/** How many materials of its line came from a list before and stand in this one no more. */
export const goneFrom = async ({ id, line }: ColorListRow): Promise<number> =>
  line === null ? 0 : countGone(database(), line, id);

/** What a row would become, before anything is made. */
export interface LookedAt {
  entry: ListedEntry;
  is: "new" | "changed" | "same" | "kept";
  /** The material that it is of, and the colour that this has now. */
  material: string | null;
  now: string | null;
  said: string;
}

/** What would become of the rows of a list, and how many of each. */
export async function lookAtColors(list: ColorListRow): Promise<LookedAt[]> {
  const db = database();
  const items = await listItems(db, list.id, ["waiting"], 20_000);
  const line = await findLine(db, list.supplier, list.lineName);
  const codes = items.map(({ code }) => code);
  const known = line === undefined ? [] : await listKnown(db, line, codes);
  const byCode = new Map(known.map((one) => [one.code, one]));
  return items.map(({ code, listed }) => {
    const one = byCode.get(code.toLowerCase());
    if (!one) return { entry: listed, is: "new", material: null, now: null, said: "" };
    const { set, said, kept } = listedChanges(one.now, one.listed ?? undefined, listed);
    const isOfPictures = changesPictures(one, set);
    return {
      ...{ entry: listed, material: one.id, now: one.now.color },
      is: said.length > 0 && !isOfPictures ? "changed" : kept.length > 0 || isOfPictures ? "kept" : "same",
      said: isOfPictures ? HAS_PICTURES : [...said, ...kept].join("; "),
    };
  });
}
