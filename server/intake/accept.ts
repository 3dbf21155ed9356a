import { DEFAULT_FINISH } from "#core/finish/finish";
import { ROLE_NAMES, type NormalDirection, type Role } from "#core/maps/roles";
import { inTransaction, type Db } from "#server/db/database";
import {
  findIntake,
  listCandidates,
  lockCandidate,
  markAccepted,
  setIntakeState,
  settleRoles,
  type CandidateRow,
  type IntakeRow,
} from "#server/db/intakes";
import {
  findClashes,
  findMaterial,
  insertMaterial,
  saveRevision,
  updateMaterial,
  type NewMap,
  type NewRevision,
} from "#server/db/materials";
import type { Person } from "#server/db/people";
import { announce } from "#server/events/events";
import { badField, conflict, notFound } from "#server/problem";

/** "leave-out": the file is not taken. */
export type ChosenRole = Role | "leave-out";

export interface Choice {
  id: string;
  name?: string;
  /** By file; what is not named keeps the role that was read. */
  roles?: Record<string, ChosenRole>;
  normalDirection?: NormalDirection;
}

export interface Accepted {
  materials: { id: string; name: string }[];
  skipped: { candidate: string; reason: string }[];
}

/** Takes candidates into the library, all in one transaction. @throws {Problem} where a choice does not fit. */
export async function acceptCandidates(
  intakeId: string,
  choices: Choice[] | "all",
  person: Person,
): Promise<Accepted> {
  return inTransaction(async (db) => {
    const intake = await findIntake(db, intakeId);
    if (!intake) throw notFound("intake");
    if (intake.state !== "review" && intake.state !== "accepted")
      throw conflict(`The intake is still “${intake.state}”. Wait until it is in review.`);
    const candidates = await listCandidates(db, intakeId);
    const chosen =
      choices === "all"
        ? candidates.filter(({ state }) => state === "waiting").map(({ id }): Choice => ({ id }))
        : choices;

    const accepted: Accepted = { materials: [], skipped: [] };
    for (const [at, choice] of chosen.entries()) {
      const candidate = candidates.find(({ id }) => id === choice.id);
      if (!candidate) throw badField(`/candidates/${at}/id`, `The intake has no candidate “${choice.id}”.`);
      if (!(await lockCandidate(db, intakeId, candidate.id))) {
        accepted.skipped.push({ candidate: candidate.id, reason: "It was accepted already." });
        continue;
      }
      await acceptOne(db, intake, candidate, choice, at, person, accepted);
    }
    const left = (await listCandidates(db, intakeId)).some(({ state }) => state === "waiting");
    if (!left) await setIntakeState(db, intakeId, "accepted");
    await announce(db, { topic: "intake", id: intakeId, state: left ? "review" : "accepted" });
    await announce(db, { topic: "library", id: intakeId });
    return accepted;
  });
}

async function acceptOne(
  db: Db,
  intake: IntakeRow,
  candidate: CandidateRow,
  choice: Choice,
  at: number,
  person: Person,
  accepted: Accepted,
): Promise<void> {
  const maps = chooseMaps(candidate, choice, at);
  const skip = (reason: string) => accepted.skipped.push({ candidate: candidate.id, reason });
  if (maps.length === 0)
    return void skip("None of its files has a role. Say what they are and accept it again.");
  const name = (choice.name ?? candidate.name).trim();
  if (name === "" || name.length > 200)
    throw badField(`/candidates/${at}/name`, "A name has 1 to 200 characters.");

  const revision: NewRevision = {
    repeat: null,
    sizeState: "unknown",
    gauge: null,
    finish: DEFAULT_FINISH,
    findings: openFindings(candidate, maps),
    note: `Received as ${intake.uploads.join(", ")}`.slice(0, 300),
    maps,
  };
  const baseColor = maps.find(({ role }) => role === "base_color")?.sha256 ?? null;
  const clashes = await findClashes(db, name, baseColor);
  const clash = clashes[0];
  if (clash && intake.onClash === "skip")
    return void skip(
      clash.same_name
        ? `The library has “${clash.name}” already.`
        : `The same picture is in the library as “${clash.name}”.`,
    );

  let id: string;
  if (clash && intake.onClash === "replace") {
    const before = (await findMaterial(db, clash.id))!;
    const { repeat, sizeState, gauge, finish } = before;
    const saved = await saveRevision(
      db,
      { id: clash.id, seen: clash.revision, person: person.id },
      { ...revision, repeat, sizeState, gauge, finish },
    );
    if (saved === undefined) return void skip(`Somebody saved “${clash.name}” just now. Accept it again.`);
    id = clash.id;
    if (choice.name) await updateMaterial(db, id, { name });
  } else {
    const free = await freeName(db, name);
    id = await insertMaterial(
      db,
      {
        name: free,
        kind: candidate.kind,
        layout: "repeating",
        source: { intake: intake.id, product: candidate.name },
        person: person.id,
      },
      revision,
    );
  }
  await settleRoles(db, candidate.id, maps);
  await markAccepted(db, candidate.id, id);
  accepted.materials.push({ id, name: (await findMaterial(db, id))!.name });
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

/** Findings that a person's choice has answered are not carried into the material. */
function openFindings(candidate: CandidateRow, maps: NewMap[]) {
  const taken = new Set(maps.map(({ fileName }) => fileName));
  const normal = maps.find(({ role }) => role === "geometry_normal");
  return candidate.findings.filter(({ code, message }) => {
    if (code === "normal-direction-assumed") return normal !== undefined && normal.normalDirection === null;
    if (code === "no-base-color") return !maps.some(({ role }) => role === "base_color");
    if (code === "role-unknown" || code === "alpha-may-be-height") return false;
    const about = candidate.maps.find(({ file }) => message.startsWith(`${file} `));
    return !about || taken.has(about.file);
  });
}

async function freeName(db: Db, name: string): Promise<string> {
  for (let n = 1; ; n++) {
    const candidate = n === 1 ? name : `${name} (${n})`;
    const clashes = await findClashes(db, candidate, null);
    if (clashes.length === 0) return candidate;
  }
}
