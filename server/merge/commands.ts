import { z } from "zod";
import { DEFAULT_FINISH } from "#core/finish/finish";
import {
  MERGE_FIELDS,
  proposeMerge,
  repeatOnOther,
  type MergeChoice,
  type MergeField,
  type MergeRelation,
  type MergeSide,
  type Side,
} from "#core/library/merge";
import type { Repeat } from "#core/length/repeat";
import type { Person } from "#server/auth/person";
import { changeCollectionMaterials } from "#server/collection/members";
import { database, inTransaction, type Db } from "#server/db/database";
import { announce } from "#server/events/events";
import { overtaken } from "#server/jobs/overtaken";
import { restoreIn, stateOf } from "#server/material/commands";
import { eachOnce, MOST_TAGS } from "#server/material/facts";
import { lockMaterial, mustFindMaterial, type MaterialRow } from "#server/material/queries";
import { saveRevision } from "#server/material/writes";
import {
  findFacts,
  findMergedInto,
  findPlaces,
  findRelation,
  findUses,
  insertMerge,
  lockMerge,
  markMerged,
  markMergeUndone,
  writeFacts,
  type MergedFacts,
} from "#server/merge/sql";
import { badField, conflict, notFound, savedMeanwhile } from "#server/problem";
import { changeProjectMembers } from "#server/project/writes";

const side = z.union([z.literal(0), z.literal(1)]);

export const mergeInput = z
  .object({
    first: z.uuid(),
    second: z.uuid(),
    /** The revisions that were looked at. */
    seen: z.tuple([z.number().int(), z.number().int()]),
    /** From which of the two each is taken. */
    choice: z
      .object({
        kept: side,
        ...(Object.fromEntries(MERGE_FIELDS.map((field) => [field, side])) as Record<
          MergeField,
          typeof side
        >),
      })
      .strict(),
  })
  .strict();
export type MergeInput = z.infer<typeof mergeInput>;

/** Two materials side by side, with what is proposed to be taken of each. */
export interface MergePlan {
  sides: [MergeShown, MergeShown];
  choice: MergeChoice;
  /** What the size of each is on the pictures of the other one. */
  sizeOnOther: [Repeat | null, Repeat | null];
}

export interface MergeShown extends MergeSide {
  material: MaterialRow;
  projects: string[];
  collections: string[];
  factsOf: MergedFacts;
}

/** What would come of two materials if they were one. @throws {Problem} where one is not there, or they are of different kinds */
export async function planMerge(first: string, second: string): Promise<MergePlan> {
  const db = database();
  if (first === second) throw badField("/second", "These are one material already.");
  const materials = await Promise.all([first, second].map((id) => mustFindMaterial(db, id)));
  checkKinds(materials as [MaterialRow, MaterialRow]);
  const shown = (await Promise.all(materials.map((one) => shownSide(db, one)))) as [MergeShown, MergeShown];
  const relation = await relationOf(db, first, second);
  const onOther = (at: Side) => {
    const { repeat } = shown[at];
    return repeat && relation ? repeatOnOther(repeat, at, relation) : repeat;
  };
  return { sides: shown, choice: proposeMerge(shown), sizeOnOther: [onOther(0), onOther(1)] };
}

function checkKinds([one, other]: [MaterialRow, MaterialRow]): void {
  if (one.kind !== "material" || other.kind !== "material")
    throw badField("/second", "Only materials are merged: neither wear layers nor environments.");
}

async function shownSide(db: Db, material: MaterialRow): Promise<MergeShown> {
  const [uses, facts] = [(await findUses(db, material.id))!, (await findFacts(db, material.id))!];
  const { name: _, familyFrom: __, layout: ___, tags, ...others } = facts;
  return {
    material,
    name: material.name,
    since: uses.since.getTime(),
    maps: material.maps,
    repeat: material.repeat,
    sizeState: material.sizeState,
    setValues: setValues(material),
    facts: Object.values(others).filter((value) => value !== null).length + tags.length,
    uses: uses.uses,
    projects: uses.projects,
    collections: uses.collections,
    factsOf: facts,
  };
}

const setValues = ({ finish }: MaterialRow) =>
  Object.entries(finish).filter(
    ([name, value]) =>
      JSON.stringify(value) !== JSON.stringify(DEFAULT_FINISH[name as keyof typeof DEFAULT_FINISH]),
  ).length;

/** How the second's picture is of the first's surface. */
async function relationOf(db: Db, first: string, second: string): Promise<MergeRelation | undefined> {
  const found = await findRelation(db, first, second);
  if (!found) return undefined;
  const { turns, parts, isSwapped } = found;
  return { turns, parts: parts && isSwapped ? { first: parts.second, second: parts.first } : parts };
}

/**
 * Makes one of two materials: a new revision of the one that stays, with what is taken from each. Collections have it in place of the
 * other; projects keep what they took until they move on. @throws {Problem} where either was saved or merged meanwhile
 */
export function merge(
  input: MergeInput,
  person: Person,
): Promise<{ id: string; kept: string; lost: string }> {
  return inTransaction(async (db) => {
    const ids = [input.first, input.second] as const;
    if (ids[0] === ids[1]) throw badField("/second", "These are one material already.");
    const locked = new Map<string, MaterialRow | undefined>();
    // In one order, whichever way round somebody else merges them.
    for (const id of ids.toSorted()) locked.set(id, await lockMaterial(db, id));
    const pair = await Promise.all(ids.map((id) => there(db, id, locked.get(id))));
    checkKinds(pair as [MaterialRow, MaterialRow]);
    for (const [at, material] of pair.entries())
      if (material.revision !== input.seen[at])
        throw savedMeanwhile(`“${material.name}” was saved meanwhile. Look at the two again.`);
    const { choice } = input;
    const [kept, lost] = [pair[choice.kept], pair[1 - choice.kept]];
    const from = (field: MergeField) => pair[choice[field]];
    const facts = await Promise.all(pair.map(async ({ id }) => (await findFacts(db, id))!));
    const before = facts[choice.kept];
    const after = mergedFacts(facts, choice);

    const size = from("size");
    const relation = await relationOf(db, ...ids);
    const isOther = choice.size !== choice.maps;
    const revision = await saveRevision(
      db,
      { id: kept.id, seen: kept.revision, person: person.id },
      {
        ...stateOf(kept),
        maps: from("maps").maps,
        findings: from("maps").findings,
        repeat:
          size.repeat && isOther && relation
            ? repeatOnOther(size.repeat, choice.size, relation)
            : size.repeat,
        ...{ sizeState: size.sizeState, gauge: size.gauge },
        finish: from("finish").finish,
        note: `Merged with ${lost.code} ${lost.name}`,
      },
    );
    if (revision === undefined)
      throw savedMeanwhile(`“${kept.name}” was saved meanwhile. Look at the two again.`);
    await writeFacts(db, kept.id, after);

    const places = (await findPlaces(db, lost.id))!;
    const own = (await findPlaces(db, kept.id))!;
    const cameInto = places.collections.filter((id) => !own.collections.includes(id));
    for (const project of places.byCollection)
      await changeProjectMembers(db, "materials", project, { add: [lost.id], remove: [] });
    for (const collection of places.collections)
      await changeCollectionMaterials(db, collection, { add: [kept.id], remove: [lost.id] });
    await markMerged(db, lost.id, kept.id);
    const id = await insertMerge(db, {
      ...{ kept: kept.id, lost: lost.id, person: person.id },
      taken: MERGE_FIELDS.filter((field) => choice[field] !== choice.kept),
      before: {
        ...{ revision: kept.revision, facts: before, collections: places.collections, cameInto },
        singly: places.byCollection,
      },
      after: { revision, facts: after },
    });
    await told(db, kept.id);
    return { id, kept: kept.id, lost: lost.id };
  });
}

async function there(db: Db, id: string, material: MaterialRow | undefined): Promise<MaterialRow> {
  if (!material) throw notFound("material");
  const merged = await findMergedInto(db, id);
  if (merged) throw conflict(`“${material.name}” was merged into “${merged.name}” meanwhile.`);
  return material;
}

/** The facts of one, with what it lacks from the other, and the tags of both. */
function mergedFacts(facts: MergedFacts[], choice: MergeChoice): MergedFacts {
  const [chosen, other] = [facts[choice.facts], facts[1 - choice.facts]];
  return {
    name: facts[choice.name].name,
    // How it lies on a wall goes with its maps: a plain colour has none.
    layout: facts[choice.maps].layout,
    supplier: chosen.supplier ?? other.supplier,
    product: chosen.product ?? other.product,
    productCode: chosen.productCode ?? other.productCode,
    page: chosen.page ?? other.page,
    licence: chosen.licence ?? other.licence,
    ...(chosen.family === null
      ? { family: other.family, familyFrom: other.familyFrom }
      : { family: chosen.family, familyFrom: chosen.familyFrom }),
    tags: eachOnce([...chosen.tags, ...other.tags]).slice(0, MOST_TAGS),
  };
}

/** Makes two of what was merged, as they were. @throws {Problem} where the one that stayed was changed since */
export function undoMerge(id: string, person: Person): Promise<{ kept: string; lost: string }> {
  return inTransaction(async (db) => {
    const found = await lockMerge(db, id);
    if (!found) throw notFound("merge");
    const { kept, lost, before, after } = found;
    const locked = new Map<string, MaterialRow | undefined>();
    for (const one of [kept, lost].toSorted()) locked.set(one, await lockMaterial(db, one));
    const material = locked.get(kept);
    if (!material)
      throw conflict("What it was merged into has been taken out of the library since. Restore it first.");
    const merged = await findMergedInto(db, kept);
    if (merged) throw conflict(`“${material.name}” was merged into “${merged.name}” since: undo that first.`);
    if (material.revision !== after.revision)
      throw conflict(`“${material.name}” was saved since. Restore its revision ${after.revision} first.`);
    await restoreIn(db, material, before.revision, person);
    const now = (await findFacts(db, kept))!;
    await writeFacts(db, kept, untouched(now, before.facts, after.facts));
    await markMerged(db, lost, null);
    for (const collection of before.collections)
      await changeCollectionMaterials(db, collection, {
        add: [lost],
        remove: before.cameInto.includes(collection) ? [kept] : [],
      });
    for (const project of before.singly)
      await changeProjectMembers(db, "materials", project, { add: [], remove: [lost] });
    await markMergeUndone(db, id);
    await told(db, kept);
    return { kept, lost };
  });
}

/** Back to what was before, but for what somebody has changed since. */
const untouched = (now: MergedFacts, before: MergedFacts, after: MergedFacts): MergedFacts =>
  Object.fromEntries(
    (Object.keys(now) as (keyof MergedFacts)[]).map((fact) => [
      fact,
      JSON.stringify(now[fact]) === JSON.stringify(after[fact]) ? before[fact] : now[fact],
    ]),
  ) as unknown as MergedFacts;

async function told(db: Db, material: string): Promise<void> {
  await overtaken(db);
  await announce(db, { topic: "library", id: material });
}
