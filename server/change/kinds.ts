import { z } from "zod";
import { FAMILIES, type Family } from "#core/finish/family";
import { changedFinish, type Finish, type FinishField } from "#core/finish/finish";
import { gradeChange, GRADES } from "#core/finish/grades";
import { FINISH_VALUES } from "#core/finish/valueFacts";
import { formatSize } from "#core/length/formatLength";
import { mendWords } from "#core/mend/recipe";
import { nameByRule } from "#core/library/nameRule";
import type { AskedSize, ChangeKind, ManyFacts } from "#server/change/asked";
import type { Person } from "#server/auth/person";
import { oneRow, type Db } from "#server/db/database";
import { findOrInsertSupplier } from "#server/supplier/writes";
import { eachOnce, MOST_TAGS } from "#server/material/facts";
import { findMaterial, type MaterialRow } from "#server/material/queries";
import { changeCollectionMaterials, mustBeByHand } from "#server/collection/members";
import { changeProjectMembers } from "#server/project/writes";
import { listGrades } from "#server/grade/sql";
import { restoreIn, setRepeatIn, stateOf } from "#server/material/commands";
import { askAlikeForFamily } from "#server/material/familyByLook";
import {
  markDeleted,
  saveRevision,
  updateFamilyAndTags,
  updateMaterial,
  updateSource,
} from "#server/material/writes";
import { keepMendIn } from "#server/mending/commands";
import { listMends } from "#server/mending/queries";
import { badField, conflict, notFound, Problem } from "#server/problem";

/** One value of a material before and after, in words. */
export const saidSchema = z.object({ name: z.string(), before: z.string(), after: z.string() });
export type Said = z.infer<typeof saidSchema>;

/** What an act made of one material: enough to take it back, and in words. */
export interface Changed {
  before: object;
  after: object;
  said: Said[];
}

interface Kind<A> {
  /** @returns undefined where it is so already. @throws {Problem} where it cannot be */
  apply(
    db: Db,
    material: MaterialRow,
    asked: A,
    by: { person: Pick<Person, "id" | "name">; place: number },
  ): Promise<Changed | undefined>;
  /** @returns whether it could be: what somebody has changed since is left */
  undo(db: Db, id: string, changed: Omit<Changed, "said">, person: Pick<Person, "id">): Promise<boolean>;
}

const sizeWords = ({ repeat, sizeState }: Pick<MaterialRow, "repeat" | "sizeState">) =>
  repeat ? `${formatSize(repeat)}${sizeState === "assumed" ? ", assumed" : ""}` : "unknown";

const revisionSchema = z.object({ revision: z.number() });

const size: Kind<Pick<AskedSize, "seen" | "size">> = {
  async apply(db, material, { seen, size }, { person }) {
    if (seen !== undefined && seen !== material.revision && material.sizeState === "known")
      throw new Problem(
        409,
        "Conflict",
        `It was given a size meanwhile, by ${String(material.gauge?.by ?? material.madeBy)}: ${sizeWords(material)}.`,
      );
    const after = await setRepeatIn(db, material, size, person);
    if (!after) return undefined;
    return {
      before: { revision: material.revision },
      after: { revision: material.revision + 1 },
      said: [{ name: "size", before: sizeWords(material), after: sizeWords(after) }],
    };
  },
  async undo(db, id, { before, after }, person) {
    const material = await findMaterial(db, id);
    if (material?.revision !== revisionSchema.parse(after).revision) return false;
    await restoreIn(db, material, revisionSchema.parse(before).revision, person);
    return true;
  },
};

const factsRow = z.object({
  supplier: z.string().nullable(),
  supplierName: z.string().nullable(),
  licence: z.string().nullable(),
  licenceName: z.string().nullable(),
  family: z.enum(FAMILIES).nullable(),
  familyFrom: z.string().nullable(),
  tags: z.array(z.string()),
});
type FactsRow = z.infer<typeof factsRow>;

async function factsOf(db: Db, id: string): Promise<FactsRow> {
  const row = await oneRow(
    db,
    factsRow,
    `SELECT s.supplier, u.name AS "supplierName", s.licence, c.name AS "licenceName", m.family, m.family_from AS "familyFrom", m.tags
       FROM materials m JOIN sources s ON s.id = m.source LEFT JOIN suppliers u ON u.id = s.supplier LEFT JOIN licences c ON c.id = s.licence
      WHERE m.id = $1`,
    [id],
  );
  return row!;
}

const FACTS = ["supplier", "licence", "family", "tags"] as const;
const FINISH_FIELDS = Object.keys(FINISH_VALUES) as FinishField[];
const isSame = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);
const factWords = (facts: FactsRow): Record<(typeof FACTS)[number], string> => ({
  supplier: facts.supplierName ?? "none",
  licence: facts.licenceName ?? "none",
  family: facts.family ?? "none",
  tags: facts.tags.length > 0 ? facts.tags.join(", ") : "none",
});

const facts: Kind<ManyFacts> = {
  async apply(db, { id }, { supplier, licence, family, addTags, removeTags }) {
    const before = await factsOf(db, id);
    await updateSource(db, id, {
      ...(supplier !== undefined && {
        supplier: supplier === null ? null : await findOrInsertSupplier(db, supplier, null),
      }),
      ...(licence !== undefined && { licence: licence?.id ?? null }),
    });
    if (family !== undefined || addTags || removeTags) {
      const removed = new Set(removeTags?.map((tag) => tag.toLowerCase()));
      const tags = eachOnce([...before.tags, ...(addTags ?? [])]).filter(
        (tag) => !removed.has(tag.toLowerCase()),
      );
      if (tags.length > MOST_TAGS)
        throw badField("/facts/addTags", `It would have ${tags.length} tags; at most ${MOST_TAGS} are kept.`);
      await updateFamilyAndTags(db, id, { family, tags });
    }
    const after = await factsOf(db, id);
    const changed = FACTS.filter((fact) => !isSame(before[fact], after[fact]));
    if (changed.length === 0) return undefined;
    const [was, is] = [factWords(before), factWords(after)];
    return { before, after, said: changed.map((name) => ({ name, before: was[name], after: is[name] })) };
  },
  async undo(db, id, changed) {
    const [before, after] = [factsRow.parse(changed.before), factsRow.parse(changed.after)];
    const now = await factsOf(db, id);
    const back = FACTS.filter((fact) => !isSame(before[fact], after[fact]) && isSame(now[fact], after[fact]));
    if (back.length === 0) return false;
    const has = (fact: (typeof FACTS)[number]) => back.includes(fact);
    await updateSource(db, id, {
      ...(has("supplier") && { supplier: before.supplier }),
      ...(has("licence") && { licence: before.licence }),
    });
    if (has("tags")) await updateFamilyAndTags(db, id, { tags: before.tags });
    if (has("family")) await setFamily(db, id, before);
    return true;
  },
};

/** As it was, with who had said it. */
async function setFamily(
  db: Db,
  id: string,
  { family, familyFrom }: { family: Family | null; familyFrom: string | null },
): Promise<void> {
  await db.query("UPDATE materials SET family = $2, family_from = $3 WHERE id = $1", [
    id,
    family,
    familyFrom,
  ]);
  await askAlikeForFamily(db, id);
}

const nameSchema = factsRow.pick({ family: true, familyFrom: true }).extend({ name: z.string() });

const name: Kind<{ rule: string }> = {
  async apply(db, { id, name, family, familyFrom, source }, { rule }, { place }) {
    const next = nameByRule(rule, {
      ...{ name, number: place, family: family ?? undefined },
      ...{ supplier: source.supplier ?? undefined, product: source.product ?? undefined },
    });
    if (next === name) return undefined;
    await updateMaterial(db, id, { name: next });
    const after = await findMaterial(db, id);
    return {
      before: { name, family, familyFrom },
      after: { name: next, family: after!.family, familyFrom: after!.familyFrom },
      said: [{ name: "name", before: name, after: next }],
    };
  },
  async undo(db, id, changed) {
    const [before, after] = [nameSchema.parse(changed.before), nameSchema.parse(changed.after)];
    const now = await findMaterial(db, id);
    if (now?.name !== after.name) return false;
    await updateMaterial(db, id, { name: before.name });
    // What the new name said of its family goes with it.
    if (now.family === after.family && now.familyFrom === after.familyFrom) await setFamily(db, id, before);
    return true;
  },
};

const grade: Kind<{ grade: string }> = {
  async apply(db, material, { grade: asked }, { person }) {
    const known = [...GRADES, ...(await listGrades(db))].find(
      ({ name }) => name.toLowerCase() === asked.toLowerCase(),
    );
    if (!known) throw badField("/grade", `There is no grade “${asked}”.`);
    // What it has nothing to say of goes back to what came.
    const received = (await findMaterial(db, material.id, 1)) ?? material;
    const finish = changedFinish(material.finish, gradeChange(known, received.finish, material.maps));
    const said = differencesOf(material.finish, finish);
    if (said.length === 0) return undefined;
    const state = { ...stateOf(material), finish, note: `Finished as ${known.name}` };
    const after = await saveRevision(
      db,
      { id: material.id, seen: material.revision, person: person.id },
      state,
    );
    return { before: { revision: material.revision }, after: { revision: after }, said };
  },
  undo: (db, id, changed, person) => size.undo(db, id, changed, person),
};

/** The values of a finish that are others, in words. */
function differencesOf(before: Finish, after: Finish): Said[] {
  return FINISH_FIELDS.filter((field) => !isSame(before[field], after[field])).map((field) => ({
    name: FINISH_VALUES[field].name,
    before: valueWords(before[field]),
    after: valueWords(after[field]),
  }));
}

const valueWords = (value: unknown): string =>
  value === null || value === undefined
    ? "none"
    : typeof value === "number"
      ? String(Number(value.toFixed(3)))
      : String(value);

const placeSchema = z.object({
  into: z.string().nullable(),
  outOf: z.string().nullable(),
});

/** In which of the two a material lies; null where it does not, or is not asked about. */
async function placesOf(
  db: Db,
  material: string,
  { into, outOf }: { into?: string | null; outOf?: string | null },
): Promise<{ into: string | null; outOf: string | null }> {
  const lies = async (collection: string | null | undefined) => {
    if (!collection) return null;
    const row = await db.query("SELECT FROM collection_materials WHERE collection = $1 AND material = $2", [
      collection,
      material,
    ]);
    return row.rowCount === 1 ? collection : null;
  };
  return { into: await lies(into), outOf: await lies(outOf) };
}

async function collectionName(db: Db, id: string): Promise<string> {
  const row = await oneRow(db, z.object({ name: z.string() }), "SELECT name FROM collections WHERE id = $1", [
    id,
  ]);
  if (!row) throw notFound("collection");
  return row.name;
}

const place: Kind<{ into?: string; outOf?: string }> = {
  async apply(db, { id }, asked) {
    for (const one of [asked.into, asked.outOf]) if (one) await mustBeByHand(db, one);
    const before = await placesOf(db, id, asked);
    const said: Said[] = [];
    if (asked.outOf && before.outOf) {
      await changeCollectionMaterials(db, asked.outOf, { add: [], remove: [id] });
      said.push({ name: await collectionName(db, asked.outOf), before: "in it", after: "taken out" });
    }
    if (asked.into) {
      const name = await collectionName(db, asked.into);
      if (!before.into) {
        await changeCollectionMaterials(db, asked.into, { add: [id], remove: [] });
        said.push({ name, before: "not in it", after: "in it" });
      }
    }
    if (said.length === 0) return undefined;
    return {
      before: { into: before.into, outOf: before.outOf },
      after: { into: asked.into && !before.into ? asked.into : null, outOf: null },
      said,
    };
  },
  async undo(db, id, changed) {
    const [before, after] = [placeSchema.parse(changed.before), placeSchema.parse(changed.after)];
    const now = await placesOf(db, id, { into: after.into, outOf: before.outOf });
    const isBack = after.into !== null && now.into !== null;
    const isThere = before.outOf !== null && now.outOf === null;
    if (!isBack && !isThere) return false;
    if (isBack) await changeCollectionMaterials(db, after.into!, { add: [], remove: [id] });
    if (isThere) await changeCollectionMaterials(db, before.outOf!, { add: [id], remove: [] });
    return true;
  },
};

const heldSchema = z.object({ collections: z.array(z.string()), projects: z.array(z.string()) });
const swapSchema = heldSchema.extend({ to: z.string() });

/** The collections that a material was put into by hand, and the projects that took it by itself. */
async function heldBy(db: Db, material: string): Promise<z.infer<typeof heldSchema>> {
  const row = await oneRow(
    db,
    heldSchema,
    `SELECT ARRAY(SELECT c.id::text FROM collection_materials cm JOIN collections c ON c.id = cm.collection
              WHERE cm.material = $1 AND c.filter IS NULL ORDER BY c.id) AS collections,
       ARRAY(SELECT project::text FROM project_materials WHERE material = $1 ORDER BY project) AS projects`,
    [material],
  );
  return row!;
}

/** Puts one in and takes another out, wherever that is held. */
async function exchange(
  db: Db,
  { collections, projects }: z.infer<typeof heldSchema>,
  change: (place: string) => { add: string[]; remove: string[] },
): Promise<void> {
  for (const id of collections) await changeCollectionMaterials(db, id, change(id));
  for (const id of projects) await changeProjectMembers(db, "materials", id, change(id));
}

const swap: Kind<{ to: string }> = {
  async apply(db, { id, name }, { to }) {
    const other = await findMaterial(db, to);
    if (!other) throw badField("/to", "There is no material that could take its place.");
    const [held, had] = [await heldBy(db, id), await heldBy(db, to)];
    if (held.collections.length + held.projects.length === 0) return undefined;
    const names = await namesOf(db, held);
    await exchange(db, held, () => ({ add: [to], remove: [id] }));
    return {
      before: held,
      after: { to, ...had },
      said: names.map((place) => ({ name: place, before: name, after: other.name })),
    };
  },
  async undo(db, id, changed) {
    const [before, after] = [heldSchema.parse(changed.before), swapSchema.parse(changed.after)];
    const now = await heldBy(db, after.to);
    // Where somebody has taken it out since, nothing is put back.
    const back = {
      collections: before.collections.filter((place) => now.collections.includes(place)),
      projects: before.projects.filter((place) => now.projects.includes(place)),
    };
    if (back.collections.length + back.projects.length === 0) return false;
    const was = new Set([...after.collections, ...after.projects]);
    await exchange(db, back, (place) => ({ add: [id], remove: was.has(place) ? [] : [after.to] }));
    return true;
  },
};

async function namesOf(db: Db, { collections, projects }: z.infer<typeof heldSchema>): Promise<string[]> {
  const found = await db.query<{ name: string }>(
    `SELECT name FROM (SELECT 1 AS kind, name FROM projects WHERE id = ANY ($1) UNION ALL SELECT 2, name FROM collections WHERE id = ANY ($2)) held
      ORDER BY kind, lower(name)`,
    [projects, collections],
  );
  return found.rows.map(({ name }) => name);
}

const mend: Kind<unknown> = {
  async apply(db, { id, revision }, _asked, { person }) {
    const waiting = (await listMends(db, id)).find(
      ({ proposal, toRevision, failure }) => proposal !== null && toRevision === null && failure === null,
    );
    if (!waiting) return undefined;
    const { toRevision, failure } = await keepMendIn(db, waiting, person.id);
    if (toRevision === null) throw conflict(failure ?? "It could not be kept.");
    return {
      before: { revision },
      after: { revision: toRevision },
      said: [{ name: "maps", before: "as they were", after: mendWords(waiting.recipe) }],
    };
  },
  undo: (db, id, changed, person) => size.undo(db, id, changed, person),
};

const isDeletedSchema = z.object({ isDeleted: z.boolean() });

const remove: Kind<unknown> = {
  async apply(db, { id }) {
    await markDeleted(db, id, true);
    return {
      before: { isDeleted: false },
      after: { isDeleted: true },
      said: [{ name: "library", before: "in it", after: "taken out" }],
    };
  },
  async undo(db, id) {
    const now = await oneRow(
      db,
      isDeletedSchema,
      `SELECT deleted_at IS NOT NULL AS "isDeleted" FROM materials WHERE id = $1`,
      [id],
    );
    return now?.isDeleted === true && markDeleted(db, id, false);
  },
};

/** How each kind of act changes one material, and takes that back. */
export const KINDS: Record<ChangeKind, Kind<unknown>> = {
  ...{ size: size as Kind<unknown>, facts: facts as Kind<unknown> },
  ...{ name: name as Kind<unknown>, grade: grade as Kind<unknown>, place: place as Kind<unknown> },
  ...{ swap: swap as Kind<unknown>, mend, delete: remove },
};
