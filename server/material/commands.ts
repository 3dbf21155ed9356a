import { stillOpen } from "#core/findings/stillOpen";
import { changedValues, finishValues } from "#core/finish/finishValues";
import { FINISH_VALUES } from "#core/finish/valueFacts";
import { methodWords } from "#core/gauge/methodWords";
import { sizeValues } from "#core/gauge/sizeValues";
import { clashOf, isContradicted, savedOf, type Outcome } from "#server/material/clash";
import {
  changedFinish,
  DEFAULT_FINISH,
  finishSchema,
  type Corrections,
  type Finish,
  type FinishChange,
  type FinishField,
} from "#core/finish/finish";
import type { Layout } from "#core/finish/material";
import { GaugeError, gaugeRepeat, type GaugeResult, type Keep, type RepeatMethod } from "#core/gauge/repeat";
import { isComplete } from "#core/candidates/isComplete";
import { ROLE_NAMES, type NormalDirection, type Role } from "#core/roles/roles";
import { licenceOf } from "#server/licence/queries";
import { database, inTransaction, type Db } from "#server/db/database";
import { findMaterial, mustFindMaterial, type MaterialRow } from "#server/material/queries";
import {
  insertMaterial,
  markDeleted,
  saveRevision,
  updateMaterial,
  type NewMap,
  type NewRevision,
} from "#server/material/writes";
import { checkWear, listWearers } from "#server/material/wear";
import { listProfiles } from "#server/profile/sql";
import type { Person } from "#server/auth/person";
import { announce } from "#server/events/events";
import { overtaken } from "#server/jobs/overtaken";
import { badField, notFound, Problem, savedMeanwhile } from "#server/problem";

export interface NewPlainMaterial {
  name: string;
  color: string;
  finish?: Partial<Finish>;
}

/** A colour with a finish and no image. */
export async function createPlain(input: NewPlainMaterial, person: Person): Promise<MaterialRow> {
  const finish = finishSchema.parse({ ...input.finish, color: input.color.toLowerCase() });
  return inTransaction(async (db) => {
    const id = await insertMaterial(
      db,
      { name: input.name, kind: "material", layout: "plain", source: {}, person: person.id },
      {
        repeat: null,
        sizeState: "unknown",
        gauge: null,
        finish,
        findings: [],
        note: "Made as a plain colour",
        maps: [],
      },
    );
    await announce(db, { topic: "library", id });
    return (await findMaterial(db, id))!;
  });
}

/** A copy that remembers where it came from. */
export async function copyMaterial(from: string, name: string, person: Person): Promise<MaterialRow> {
  return inTransaction(async (db) => {
    const original = await findMaterial(db, from);
    if (!original) throw badField("/from", `There is no material with the id “${from}”.`);
    const id = await insertMaterial(
      db,
      {
        name,
        kind: original.kind,
        layout: original.layout,
        variant: original.variant,
        madeFrom: from,
        // What may be done with its maps may be done with the copy's, and no more.
        source: { licence: await licenceOf(db, from) },
        person: person.id,
      },
      {
        ...stateOf(original),
        corrections: original.corrections,
        note: `Made from ${original.code} ${original.name}, revision ${original.revision}`,
      },
    );
    await announce(db, { topic: "library", id });
    return (await findMaterial(db, id))!;
  });
}

export interface MaterialChange {
  name?: string;
  layout?: Layout;
  finish?: FinishChange;
  normalDirection?: NormalDirection;
}

/** What somebody had before them when they began to change it. A name has no revisions, so it is told. */
export interface Seen {
  revision: number;
  name?: string;
}

/**
 * Changes fields of a material; what belongs to its look makes a revision.
 * @param seen undefined takes the newest.
 * @returns both versions where somebody saved in the meantime, and nothing is saved.
 */
export async function changeMaterial(
  id: string,
  change: MaterialChange,
  seen: Seen | undefined,
  person: Person,
): Promise<Outcome<MaterialRow>> {
  const outcome = await saveChange(id, seen?.revision, person, async (material, db) => {
    await checkWear(db, change.finish?.wear ?? [], material.kind);
    const finish = changedFinish(material.finish, change.finish ?? {});
    const maps = material.maps.map((map) =>
      map.role === "geometry_normal" && change.normalDirection
        ? { ...map, normalDirection: change.normalDirection }
        : map,
    );
    const findings = stillOpen(
      material.findings,
      change.normalDirection ? ["direction", "chosen-direction"] : [],
    );
    const values = Object.keys(differing(material.finish, change.finish ?? {}));
    const directions = new Set(material.maps.map(({ normalDirection }) => normalDirection));
    const changed = [
      change.name !== undefined && change.name !== material.name && "name",
      change.layout && change.layout !== material.layout && "layout",
      ...values.map((field) => (field === "wear" ? "wear" : FINISH_VALUES[field as FinishField].name)),
      change.normalDirection && !directions.has(change.normalDirection) && "normal direction",
    ];
    return {
      fields: { name: change.name, layout: change.layout },
      revision: {
        ...stateOf(material),
        finish,
        maps,
        findings,
        note: `Changed ${changed.filter(Boolean).join(", ") || "nothing"}`,
      },
    };
  });
  if ("saved" in outcome) return outcome;
  const { now, before } = outcome.late;
  const base = before ? finishValues({ ...before, name: seen!.name ?? before.name }) : {};
  return {
    clash: clashOf(
      seen!.revision,
      { revision: now.currentRevision, by: now.madeBy },
      { base, theirs: finishValues(now), mine: changedValues(base, change) },
    ),
  };
}

/**
 * Changes a finish for one renderer alone, in place of what was changed for it before. What is as it is for every renderer is left out.
 * @param seen undefined takes the newest
 * @throws {Problem} 404 for a profile that is not there, 412 where somebody saved meanwhile
 */
export async function correctFor(
  id: string,
  profile: string,
  change: Corrections[string],
  seen: number | undefined,
  person: Person,
): Promise<MaterialRow> {
  if (!(await listProfiles(database())).some((known) => known.id === profile)) throw notFound("profile");
  const outcome = await saveChange(id, seen, person, async (material) => {
    const kept = differing(material.finish, change);
    const { [profile]: _before, ...others } = material.corrections;
    const corrections = Object.keys(kept).length === 0 ? others : { ...others, [profile]: kept };
    const note =
      Object.keys(kept).length === 0
        ? `Nothing changed for ${profile} alone`
        : `Changed for ${profile} alone`;
    return { fields: {}, revision: { ...stateOf(material), corrections, note } };
  });
  if ("saved" in outcome) return outcome.saved;
  const { now } = outcome.late;
  return savedOf<MaterialRow>({
    clash: clashOf(
      seen!,
      { revision: now.currentRevision, by: now.madeBy },
      { base: {}, theirs: {}, mine: {} },
    ),
  });
}

/** Those values of a change that make the finish another one. */
function differing<C extends FinishChange>(finish: Finish, change: C): C {
  return Object.fromEntries(
    Object.entries(change).filter(
      ([field, value]) =>
        JSON.stringify(value ?? null) !== JSON.stringify(finish[field as keyof Finish] ?? null),
    ),
  ) as C;
}

/** Makes what a revision was the newest one again: its maps by the same files, size, finish and all. */
export async function restoreRevision(id: string, revision: number, person: Person): Promise<MaterialRow> {
  const old = await findMaterial(database(), id, revision);
  if (!old) throw notFound("revision");
  const outcome = await saveChange(id, undefined, person, async () => ({
    fields: {},
    revision: restoredRevision(old),
  }));
  if (!("saved" in outcome)) throw new Problem(409, "Busy", "Others keep saving this material. Try again.");
  return outcome.saved;
}

/** What became of taking a new revision of a wear layer over. */
export interface TakenOver {
  saved: { id: string; revision: number }[];
  /** Names with the reason. */
  failed: { name: string; reason: string }[];
}

/**
 * Lets materials use the newest revision of a wear layer, each by itself; how they lay it on stays as it is.
 * @param to those that do; all that use it unless given
 */
export async function takeWearOver(
  layer: string,
  to: string[] | undefined,
  person: Person,
): Promise<TakenOver> {
  const { kind, currentRevision } = await mustFindMaterial(database(), layer);
  if (kind !== "wear") throw badField("/id", "This is a material, and no wear layer.");
  const outcome: TakenOver = { saved: [], failed: [] };
  for (const { id, name, layerRevision } of await listWearers(database(), layer)) {
    if ((to && !to.includes(id)) || layerRevision === currentRevision) continue;
    try {
      const { finish, revision } = await mustFindMaterial(database(), id);
      const wear = finish.wear?.map((one) =>
        one.material === layer ? { ...one, revision: currentRevision } : one,
      );
      const saved = savedOf(await changeMaterial(id, { finish: { wear } }, { revision }, person));
      outcome.saved.push({ id, revision: saved.revision });
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      outcome.failed.push({ name, reason: error.detail });
    }
  }
  return outcome;
}

/** The repeat of another material is looked up, and not told. */
export type RepeatRequest = (
  Exclude<RepeatMethod, { method: "same-as" }> | { method: "same-as"; material: string }
) & {
  keep?: Keep;
  assumed?: boolean;
};

/** @throws {Problem} where the other material is not there or has no size of its own */
async function withRepeat(db: Db, request: RepeatRequest): Promise<RepeatMethod> {
  if (request.method !== "same-as") return request;
  const other = await findMaterial(db, request.material);
  if (!other) throw badField("/material", `There is no material with the id “${request.material}”.`);
  if (!other.repeat)
    throw badField("/material", `The size of ${other.name} is unknown too: find one of the two first.`);
  return { ...request, ...other.repeat };
}

/** What a repeat would be. @throws {Problem} naming the field that cannot be true. */
function proposeRepeat(material: MaterialRow, method: RepeatMethod, keep: Keep): GaugeResult {
  if (material.layout === "plain")
    throw badField("/method", "A plain material has no image, and so no repeat.");
  const image = measuredImage(material);
  try {
    return gaugeRepeat(image, method, keep);
  } catch (error) {
    if (error instanceof GaugeError) throw badField(`/${error.field}`, error.message);
    throw error;
  }
}

/** The image that pixel coordinates refer to: the base color map, or the largest map where there is none. */
export function measuredImage(material: Pick<MaterialRow, "maps">): { width: number; height: number } {
  const base = material.maps.find(({ role }) => role === "base_color");
  const largest = base ?? material.maps.toSorted((a, b) => b.width * b.height - a.width * a.height)[0];
  if (!largest) throw badField("/method", "The material has no map to measure on.");
  return largest;
}

/**
 * Gives a material its real size.
 * @param seen the revision that the size was found on; undefined takes the newest.
 * @param merges where somebody has changed something else meanwhile, both are kept.
 * @returns both sizes where somebody saved another one meanwhile, and nothing is saved.
 * @throws {Problem} naming the field that cannot be true
 */
export async function setRepeat(
  id: string,
  request: RepeatRequest,
  seen: number | undefined,
  person: Person,
  { merges = false } = {},
): Promise<Outcome<{ result: GaugeResult; material: MaterialRow }>> {
  let result: GaugeResult | undefined;
  const asked = { ...request, ...(await withRepeat(database(), request)) };
  const { assumed, keep = "both", ...gauge } = asked;
  const outcome = await saveChange(id, seen, person, async (before) => {
    const sized = sizedRevision(before, asked, person);
    result = sized.result;
    return { fields: {}, revision: sized.revision };
  });
  if ("saved" in outcome) return { saved: { result: result!, material: outcome.saved } };
  const { now, before } = outcome.late;
  const mine = {
    repeat: proposeRepeat(now, gauge, keep).repeat,
    sizeState: assumed ? "assumed" : "known",
    gauge: { method: request.method },
  };
  const clash = clashOf(
    seen!,
    { revision: now.currentRevision, by: String(now.gauge?.by ?? now.madeBy) },
    { base: before ? sizeValues(before) : {}, theirs: sizeValues(now), mine: sizeValues(mine) },
  );
  return merges && !isContradicted(clash)
    ? setRepeat(id, request, clash.revision, person, { merges })
    : { clash };
}

/** What a material becomes with a size. @throws {Problem} naming the field that cannot be true */
function sizedRevision(
  before: MaterialRow,
  { assumed, keep = "both", ...gauge }: RepeatMethod & { assumed?: boolean; keep?: Keep },
  person: Pick<Person, "name">,
): { result: GaugeResult; revision: NewRevision } {
  const result = proposeRepeat(before, gauge, keep);
  const revision = {
    ...stateOf(before),
    repeat: result.repeat,
    sizeState: assumed ? ("assumed" as const) : ("known" as const),
    gauge: { ...gauge, keep, errorPercent: result.errorPercent, by: person.name },
    note: `Size by ${methodWords(gauge)}`,
  };
  return { result, revision };
}

/**
 * Gives a material its real size in the caller's transaction, which holds its row.
 * @returns its size as it is now; undefined where it is so already, and nothing is saved
 * @throws {Problem} naming the field that cannot be true
 */
export async function setRepeatIn(
  db: Db,
  material: MaterialRow,
  request: RepeatRequest,
  person: Pick<Person, "id" | "name">,
): Promise<Pick<NewRevision, "repeat" | "sizeState"> | undefined> {
  const { revision } = sizedRevision(material, { ...request, ...(await withRepeat(db, request)) }, person);
  if (isSameSize(material, revision)) return undefined;
  await saveRevision(db, { id: material.id, seen: material.revision, person: person.id }, revision);
  return revision;
}

/** To the micrometre: what is computed twice may differ in its last digits. */
const isSameSize = (
  one: Pick<NewRevision, "repeat" | "sizeState">,
  other: Pick<NewRevision, "repeat" | "sizeState">,
): boolean =>
  one.sizeState === other.sizeState &&
  one.repeat !== null &&
  other.repeat !== null &&
  Math.abs(one.repeat.width - other.repeat.width) < 1e-3 &&
  Math.abs(one.repeat.height - other.repeat.height) < 1e-3;

/**
 * Gives a material maps that it lacks, as its newest revision, in the caller's transaction, which holds its row.
 * @returns the number of the revision
 * @throws {Problem} where it has a map of that role
 */
export async function giveMapsIn(
  db: Db,
  material: MaterialRow,
  maps: NewMap[],
  person: Pick<Person, "id">,
): Promise<number> {
  const roles = new Set<Role>(material.maps.map(({ role }) => role));
  for (const { role } of maps) {
    if (roles.has(role))
      throw badField(
        "/to",
        `“${material.name}” has a ${ROLE_NAMES[role]} map already. Leave one of the two out.`,
      );
    roles.add(role);
  }
  const all = [...material.maps, ...maps];
  const saved = await saveRevision(
    db,
    { id: material.id, seen: material.revision, person: person.id },
    {
      ...stateOf(material),
      maps: all,
      findings: stillOpen(material.findings, isComplete(all) ? ["complete-set"] : []),
      note: `Given ${maps.map(({ role }) => ROLE_NAMES[role]).join(", ")}`,
    },
  );
  if (saved === undefined) throw savedMeanwhile("The material was saved meanwhile. Try again.");
  await overtaken(db);
  await announce(db, { topic: "library", id: material.id });
  return saved;
}

/** Makes what a revision was the newest one again, in the caller's transaction, which holds its row. */
export async function restoreIn(
  db: Db,
  material: MaterialRow,
  revision: number,
  person: Pick<Person, "id">,
): Promise<void> {
  const old = await findMaterial(db, material.id, revision);
  if (!old) throw notFound("revision");
  await saveRevision(
    db,
    { id: material.id, seen: material.revision, person: person.id },
    restoredRevision(old),
  );
}

const restoredRevision = (old: MaterialRow): NewRevision => ({
  ...stateOf(old),
  corrections: old.corrections,
  note: `As in revision ${old.revision} again`,
});

/** What became of handing a size on to others. */
export interface HandedOn {
  saved: number;
  /** Names with the reason. */
  failed: { name: string; reason: string }[];
}

/** Gives other materials the size of one, each by itself: one that cannot take it holds up none of the rest. */
export async function handOnRepeat(from: string, to: string[], person: Person): Promise<HandedOn> {
  const outcome: HandedOn = { saved: 0, failed: [] };
  const source = await findMaterial(database(), from);
  for (const id of to) {
    try {
      const assumed = source?.sizeState === "assumed";
      savedOf(await setRepeat(id, { method: "same-as", material: from, assumed }, undefined, person));
      outcome.saved++;
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      const name = (await findMaterial(database(), id))?.name ?? id;
      outcome.failed.push({ name, reason: error.detail });
    }
  }
  return outcome;
}

export async function deleteMaterial(id: string, deleted: boolean): Promise<void> {
  await inTransaction(async (db) => {
    if (!(await markDeleted(db, id, deleted))) throw notFound("material");
    await overtaken(db);
    await announce(db, { topic: "library", id });
  });
}

interface Change {
  fields: { name?: string; layout?: Layout };
  revision: NewRevision;
}

/**
 * Without a seen revision the newest is taken, again if somebody saves in between.
 * @returns what is there now, and what was seen, where that is no longer the newest
 */
async function saveChange(
  id: string,
  seen: number | undefined,
  person: Person,
  make: (material: MaterialRow, db: Db) => Promise<Change>,
): Promise<{ saved: MaterialRow } | { late: { now: MaterialRow; before: MaterialRow | undefined } }> {
  for (let attempt = 0; attempt < 5; attempt++) {
    const saved = await inTransaction(async (db) => {
      const material = await mustFindMaterial(db, id);
      if (seen !== undefined && seen !== material.revision) return undefined;
      const { fields, revision } = await make(material, db);
      if (
        (await saveRevision(db, { id, seen: material.revision, person: person.id }, revision)) === undefined
      )
        return undefined;
      await updateMaterial(db, id, fields);
      await announce(db, { topic: "library", id });
      return findMaterial(db, id);
    });
    if (saved) return { saved };
    if (seen !== undefined) {
      const now = await mustFindMaterial(database(), id);
      return { late: { now, before: await findMaterial(database(), id, seen) } };
    }
  }
  throw new Problem(409, "Busy", "Others keep saving this material. Try again.");
}

/** All that a revision keeps of a material, to be saved with something changed. */
export function stateOf(material: MaterialRow): NewRevision {
  const { repeat, sizeState, gauge, finish, findings, maps } = material;
  return { repeat, sizeState, gauge, finish: finish ?? DEFAULT_FINISH, findings, note: "", maps };
}
