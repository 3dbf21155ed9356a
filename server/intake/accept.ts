import { DEFAULT_FINISH, heightOfRange, type Finish } from "#core/finish/finish";
import type { MaterialKind, SizeState } from "#core/finish/material";
import { planCollections, type FolderOptions } from "#core/library/folderCollections";
import { nameByRule, ruleProblem } from "#core/library/nameRule";
import { type Finding, finding } from "#core/findings/finding";
import type { Answer } from "#core/findings/kind";
import { stillOpen } from "#core/findings/stillOpen";
import { isComplete } from "#core/candidates/isComplete";
import { ROLE_NAMES, type NormalDirection, type Role } from "#core/roles/roles";
import { roughnessOfSheen } from "#core/supply/sheenRoughness";
import { sheetRepeat } from "#core/supply/sheetRepeat";
import { changeCollectionMaterials, mustBeByHand } from "#server/collection/members";
import { findOrInsertCollection } from "#server/collection/writes";
import type { Db } from "#server/db/database";
import { findImage } from "#server/images/queries";
import {
  findIntake,
  findCandidates,
  waitingCandidates,
  type CandidateRow,
  type IntakeRow,
  type OnClash,
} from "#server/intake/queries";
import { lockCandidate, markAccepted, setIntakeState, settleRoles } from "#server/intake/writes";
import { findClashes, findMaterial } from "#server/material/queries";
import {
  insertMaterial,
  saveRevision,
  updateMaterial,
  type NewMap,
  type NewRevision,
} from "#server/material/writes";
import type { VariantSheet } from "#server/supplier/queries";
import { findOrInsertLine, findOrInsertSupplier } from "#server/supplier/writes";
import { keepNameRule } from "#server/studio/sql";
import type { Person } from "#server/auth/person";
import { announce } from "#server/events/events";
import { keepLicence } from "#server/licence/commands";
import { addJob } from "#server/jobs/queue";
import { badField, conflict, notFound } from "#server/problem";

/** "leave-out": the file is not taken. */
export type ChosenRole = Role | "leave-out";

export interface Choice {
  id: string;
  name?: string;
  /** By file; what is not named keeps the role that was read. */
  roles?: Record<string, ChosenRole>;
  normalDirection?: NormalDirection;
  /** In place of what the intake does on a clash. */
  onClash?: OnClash;
  /** Whether somebody has read the licence text that came with it, and confirms what was read from it. */
  licence?: boolean;
}

/** What holds for all that is accepted at once. */
export interface AcceptOptions {
  /** Takes the folder tree over as collections. */
  collections?: FolderOptions;
  /** Puts all of it into the collection of this name, which is made where there is none; its folders become collections inside it. */
  into?: string;
  /** In place of what the intake does on a clash, and of passing over what the library has whole, where a choice says nothing else. */
  onClash?: OnClash;
  /** Names by a rule, where a choice says none. */
  nameRule?: string;
  /** Keeps that rule for the studio, to be offered from now on. */
  keepRule?: boolean;
}

export interface Accepted {
  materials: { id: string; name: string; sizeState: SizeState }[];
  skipped: { candidate: string; name: string; reason: string }[];
}

/** More than a sheet of sizes shows at once are counted when somebody looks at them. */
const MOST_COUNTED = 24;

/** Takes candidates into the library, all in the caller's transaction. @throws {Problem} where a choice does not fit. */
export async function acceptCandidates(
  db: Db,
  intakeId: string,
  choices: Choice[] | "all",
  person: Pick<Person, "id">,
  options: AcceptOptions = {},
): Promise<Accepted> {
  const wrong = options.nameRule === undefined ? undefined : ruleProblem(options.nameRule);
  if (wrong) throw badField("/nameRule", wrong);
  const intake = await findIntake(db, intakeId);
  if (!intake) throw notFound("intake");
  if (intake.state !== "review" && intake.state !== "accepted")
    throw conflict(`The intake is still “${intake.state}”. Wait until it is in review.`);
  const chosen =
    choices === "all" ? (await waitingCandidates(db, intakeId)).map((id): Choice => ({ id })) : choices;
  const candidates = new Map<string, CandidateRow>();
  for (const candidate of await findCandidates(
    db,
    intakeId,
    chosen.map(({ id }) => id),
  ))
    candidates.set(candidate.id, candidate);

  if (options.keepRule && options.nameRule !== undefined) await keepNameRule(db, options.nameRule);
  const accepted: Accepted = { materials: [], skipped: [] };
  const taken: Taken[] = [];
  for (const [at, choice] of chosen.entries()) {
    const candidate = candidates.get(choice.id);
    if (!candidate) throw badField(`/candidates/${at}/id`, `The intake has no candidate “${choice.id}”.`);
    if (!(await lockCandidate(db, intakeId, candidate.id))) {
      accepted.skipped.push({
        candidate: candidate.id,
        name: candidate.name,
        reason: "It was accepted already.",
      });
      continue;
    }
    const named =
      options.nameRule === undefined ? choice : { name: byRule(options.nameRule, candidate, at), ...choice };
    const material = await acceptOne(
      db,
      intake,
      candidate,
      options.onClash === undefined ? named : { onClash: options.onClash, ...named },
      at,
      person,
      accepted,
    );
    if (material) taken.push({ ...candidate, material });
  }
  if (taken.length > 0) await intoCollections(db, taken, options, person);
  // Whoever took a few in looks for their sizes next: their modules are counted meanwhile.
  const unsized = accepted.materials.filter(({ sizeState }) => sizeState === "unknown");
  for (const { id } of unsized.slice(0, MOST_COUNTED)) await addJob(db, "count-modules", { material: id });
  const left = (await waitingCandidates(db, intakeId)).length > 0;
  if (!left) await setIntakeState(db, intakeId, "accepted");
  await announce(db, { topic: "intake", id: intakeId, state: left ? "review" : "accepted" });
  await announce(db, { topic: "library", id: intakeId });
  return accepted;
}

function byRule(rule: string, candidate: CandidateRow, at: number): string {
  const family = candidate.folder.split("/").filter(Boolean).at(0);
  return nameByRule(rule, {
    name: candidate.name,
    family: candidate.sheet?.line.family ?? family,
    supplier: candidate.sheet?.supplier.name,
    product: candidate.sheet?.line.name,
    number: at + 1,
  });
}

/** The folders that an archive lay in. */
const outsideOf = (scope: string) => (scope.includes("/") ? scope.replace(/\/[^/]*$/, "") : "");

/** All that a candidate's folders are called, the archive among them, from outside to inside. */
const folderOf = ({ scope, folder }: Pick<CandidateRow, "scope" | "folder">) => `${scope}/${folder}`;

/** A candidate that has become a material. */
interface Taken {
  folder: string;
  scope: string;
  material: string;
}

/** Puts what was accepted into a collection, and into nested ones after the folders that it came in; those that exist are used again. */
async function intoCollections(
  db: Db,
  taken: Taken[],
  { into, collections }: Pick<AcceptOptions, "into" | "collections">,
  person: Pick<Person, "id">,
): Promise<void> {
  const places = taken.map(({ folder, scope }) => [outsideOf(scope), folder].filter(Boolean).join("/"));
  const paths = collections ? planCollections(places, collections) : taken.map((): string[] => []);
  const root =
    into === undefined
      ? null
      : await findOrInsertCollection(db, { name: into, parent: null, person: person.id });
  const members = new Map<string, string[]>();
  const known = new Map<string, string>();
  for (const [i, { material }] of taken.entries()) {
    let parent = root;
    for (const name of paths[i]) {
      const place = `${parent}/${name}`;
      const id: string =
        known.get(place) ??
        (await findOrInsertCollection(db, { name: name.slice(0, 200), parent, person: person.id }));
      known.set(place, id);
      parent = id;
    }
    if (parent) members.set(parent, [...(members.get(parent) ?? []), material]);
  }
  for (const collection of members.keys()) await mustBeByHand(db, collection);
  for (const [collection, materials] of members)
    await changeCollectionMaterials(db, collection, { add: materials, remove: [] });
}

/** @returns the material that it has become, or undefined where it was skipped */
async function acceptOne(
  db: Db,
  intake: IntakeRow,
  candidate: CandidateRow,
  choice: Choice,
  at: number,
  person: Pick<Person, "id">,
  accepted: Accepted,
): Promise<string | undefined> {
  const maps = chooseMaps(candidate, choice, at);
  const skip = (reason: string): undefined => {
    accepted.skipped.push({ candidate: candidate.id, name: candidate.name, reason });
    return undefined;
  };
  if (maps.length === 0 && candidate.layout !== "plain")
    return skip("None of its files has a role. Say what they are and accept it again.");
  const name = (choice.name ?? candidate.name).trim();
  if (name === "" || name.length > 200)
    throw badField(`/candidates/${at}/name`, "A name has 1 to 200 characters.");

  const revision: NewRevision = {
    ...toldSize(candidate, maps),
    finish: {
      ...DEFAULT_FINISH,
      ...(await depthOf(db, maps)),
      ...candidate.hint?.values,
      ...sheetFinish(candidate.sheet),
    },
    findings: openFindings(candidate, maps, choice),
    note: receivedAs(intake),
    maps,
  };
  const baseColor = maps.find(({ role }) => role === "base_color")?.sha256 ?? null;
  const clashes = await findClashes(db, name, baseColor);
  const clash = clashes[0];
  const whole = candidate.clashes.find(({ isWhole }) => isWhole);
  const onClash = choice.onClash ?? candidate.onClash ?? (whole ? "skip" : intake.onClash);
  if (whole && onClash === "skip")
    return skip(
      `The library has all of it already, as “${whole.name}”. Choose “keep both” to take it all the same.`,
    );
  const licence = await licenceOf(db, candidate, choice);
  if (clash && onClash === "skip")
    return skip(
      clash.same_name
        ? `The library has “${clash.name}” already.`
        : `The same picture is in the library as “${clash.name}”.`,
    );

  let kept: Accepted["materials"][number];
  if (clash && onClash === "replace") {
    const before = (await findMaterial(db, clash.id))!;
    const { repeat, sizeState, gauge, finish } = before;
    const saved = await saveRevision(
      db,
      { id: clash.id, seen: clash.revision, person: person.id },
      { ...revision, repeat, sizeState, gauge, finish },
    );
    if (saved === undefined) return skip(`Somebody saved “${clash.name}” just now. Accept it again.`);
    kept = { id: clash.id, name: choice.name ? name : before.name, sizeState };
    if (choice.name) await updateMaterial(db, kept.id, { name });
  } else {
    const free = await freeName(db, name);
    const id = await insertMaterial(
      db,
      {
        name: free,
        kind: kindOf(candidate, maps),
        layout: candidate.layout,
        ...(await origin(db, intake, candidate, licence)),
        folder: folderOf(candidate),
        person: person.id,
      },
      revision,
    );
    kept = { id, name: free, sizeState: revision.sizeState };
  }
  await settleRoles(db, candidate.id, maps);
  await markAccepted(db, candidate.id, kept.id);
  accepted.materials.push(kept);
  return kept.id;
}

/** What is no material, by the role that makes it so. */
const ASIDE = [
  ["wear_mask", "wear"],
  ["environment", "environment"],
] as const;

/** As it was recognised, unless the roles that a person gave its maps say otherwise. */
function kindOf({ kind }: CandidateRow, maps: NewMap[]): MaterialKind {
  const has = (wanted: NewMap["role"]) => maps.some(({ role }) => role === wanted);
  if (!has("base_color")) for (const [role, as] of ASIDE) if (has(role)) return as;
  return ASIDE.some(([role, as]) => kind === as && !has(role)) ? "material" : kind;
}

function receivedAs({ firstFiles, files }: IntakeRow): string {
  const more = files > firstFiles.length ? ` and ${files - firstFiles.length} more` : "";
  return `Received as ${firstFiles.join(", ").slice(0, 280)}${more}`;
}

/** The size that came along: a product's dimension is known; what a model was made with is nobody's measurement. */
function toldSize(
  { sheet, hint, maps: read }: CandidateRow,
  maps: NewMap[],
): Pick<NewRevision, "repeat" | "sizeState" | "gauge"> {
  const base = maps.find(({ role }) => role === "base_color") ?? maps[0];
  const image = base && read.find(({ sha256 }) => sha256 === base.sha256);
  const told = sheet && image && sheetRepeat(sheet.line, image);
  if (told) return { repeat: told.repeat, sizeState: told.agrees ? "known" : "assumed", gauge: told.method };
  if (hint?.repeat)
    return { repeat: hint.repeat, sizeState: "assumed", gauge: { method: "model", from: hint.from } };
  return { repeat: null, sizeState: "unknown", gauge: null };
}

/** A height in floating point that leaves 0..1 says how deep it goes: its range in millimetres, and 0 lies in the surface. */
async function depthOf(db: Db, maps: NewMap[]): Promise<Partial<Finish>> {
  const height = maps.find(({ role, channel }) => role === "height" && channel === "color");
  const range = height && (await findImage(db, height.sha256))?.float_range;
  return range ? heightOfRange(range) : {};
}

function sheetFinish(sheet: VariantSheet | null): Partial<Finish> {
  if (!sheet) return {};
  return {
    ...(sheet.color && { color: sheet.color }),
    ...(sheet.sheen !== null && { roughness: roughnessOfSheen(sheet.sheen) }),
    ...(sheet.heightAmplitudeMm !== null && { heightAmplitudeMm: sheet.heightAmplitudeMm }),
  };
}

/** A supplier's sheet states its licence; a text that came along needs somebody who has read it. */
async function licenceOf(db: Db, { sheet, licence }: CandidateRow, choice: Choice): Promise<string | null> {
  if (sheet) return keepLicence(db, { ...sheet.line.licence, projects: null, nonCommercial: false });
  return choice.licence && licence ? keepLicence(db, licence) : null;
}

/** Where a material came from, and the line that it is a variant of. */
async function origin(db: Db, intake: IntakeRow, { name, sheet }: CandidateRow, licence: string | null) {
  if (!sheet) return { source: { intake: intake.id, product: name, licence } };
  const supplier = await findOrInsertSupplier(db, sheet.supplier.name, sheet.supplier.page);
  return {
    line: await findOrInsertLine(db, supplier, sheet.line.name),
    variant: sheet.variant,
    source: {
      intake: intake.id,
      supplier,
      product: sheet.name,
      productCode: sheet.code,
      page: sheet.line.page,
      licence,
      sheet,
    },
  };
}

function chooseMaps(candidate: CandidateRow, choice: Choice, at: number): NewMap[] {
  const maps: NewMap[] = [];
  for (const file of Object.keys(choice.roles ?? {}))
    if (!candidate.maps.some((map) => map.file === file))
      throw badField(
        `/candidates/${at}/roles`,
        `The candidate has no file “${file}”. It has ${candidate.maps.map((map) => map.file).join(", ")}.`,
      );
  for (const map of candidate.maps) {
    const role = choice.roles?.[map.file] ?? map.role;
    if (role === "unknown" || role === "leave-out") continue;
    const rival = maps.find((other) => other.role === role);
    if (rival)
      throw badField(
        `/candidates/${at}/roles`,
        `${rival.fileName} and ${map.file} cannot both be the ${ROLE_NAMES[role]} map. Leave one out.`,
      );
    const direction = choice.normalDirection ?? map.normalDirection;
    maps.push({
      role,
      sha256: map.sha256,
      channel: map.channel,
      fileName: map.file,
      normalDirection: role === "geometry_normal" ? direction : null,
    });
  }
  return maps;
}

/** Findings that a person's choice has answered are not carried into the material, nor what is said of files that were left out. */
function openFindings(candidate: CandidateRow, maps: NewMap[], choice: Choice): Finding[] {
  const taken = new Set(maps.map(({ fileName }) => fileName));
  const normal = maps.find(({ role }) => role === "geometry_normal");
  const settled: Answer[] = ["acceptance"];
  if (maps.some(({ role }) => role === "base_color")) settled.push("base-color");
  if (isComplete(maps)) settled.push("complete-set");
  if (normal?.normalDirection !== null) settled.push("direction");
  if (choice.normalDirection) settled.push("chosen-direction");
  const findings = stillOpen(candidate.findings, settled).filter(
    ({ file }) => file === undefined || taken.has(file),
  );
  const { licence } = candidate;
  if (licence && !choice.licence)
    findings.push(finding("licence-unconfirmed", { licence: licence.name, sentence: licence.sentence }));
  return findings;
}

async function freeName(db: Db, name: string): Promise<string> {
  for (let n = 1; ; n++) {
    const candidate = n === 1 ? name : `${name} (${n})`;
    const clashes = await findClashes(db, candidate, null);
    if (clashes.length === 0) return candidate;
  }
}
