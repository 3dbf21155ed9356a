import { z } from "zod";
import { movedMaps, nameOfFile } from "#core/candidates/moveMaps";
import { lastName } from "#core/maps/lastName";
import { fileOf } from "#core/roles/channel";
import { ROLE_NAMES } from "#core/roles/roles";
import type { Person } from "#server/auth/person";
import { inTransaction, type Db } from "#server/db/database";
import {
  forgetTakenOut,
  insertBeside,
  insertMove,
  layOf,
  lockMove,
  markUndone,
  moveRows,
  putBack,
  settleTouched,
  snapshotOf,
  takeRowsOut,
} from "#server/intake/arrange/sql";
import { findCandidates, type CandidateRow } from "#server/intake/queries";
import { judgeLater, lockReviewed } from "#server/intake/questions/commands";
import { giveMapsIn, restoreIn } from "#server/material/commands";
import { findMaterial, lockMaterial } from "#server/material/queries";
import { badField, conflict, notFound } from "#server/problem";

/** Most files that are moved at once. */
const MOST = 200;

export const moveInput = z
  .object({
    files: z
      .array(z.object({ candidate: z.uuid(), file: z.string().max(4096) }).strict())
      .min(1)
      .max(MOST),
    /** Another candidate, one of their own, or a material of the library. */
    to: z.union([
      z.object({ candidate: z.uuid() }).strict(),
      z.object({ own: z.literal(true) }).strict(),
      z.object({ material: z.uuid() }).strict(),
    ]),
  })
  .strict();
export type MoveInput = z.infer<typeof moveInput>;

export interface Moved {
  id: string;
  said: string;
  /** Where the files are now. */
  candidate: string | null;
  material: string | null;
}

/**
 * Puts files of candidates with others, all channels of each: into another candidate, into one of their own, or into a material of the
 * library as its newest revision. @throws {Problem} where something of it is not there any more, or does not fit
 */
export function moveFiles(intake: string, { files, to }: MoveInput, person: Person): Promise<Moved> {
  return inTransaction(async (db) => {
    await lockReviewed(db, intake);
    const ids = [
      ...new Set([...files.map(({ candidate }) => candidate), ...("candidate" in to ? [to.candidate] : [])]),
    ];
    const candidates = new Map((await findCandidates(db, intake, ids)).map((one) => [one.id, one]));
    for (const id of ids)
      if (candidates.get(id)?.state !== "waiting")
        throw conflict(
          "One of the candidates does not wait any more: somebody took it in, or moved its files.",
        );
    const taken = ids
      .map((id) => {
        const candidate = candidates.get(id)!;
        const wanted = new Set(files.filter((one) => one.candidate === id).map(({ file }) => file));
        const maps = candidate.maps.filter((map) => wanted.has(fileOf(map)));
        for (const file of wanted)
          if (!maps.some((map) => fileOf(map) === file))
            throw badField("/files", `“${candidate.name}” has no file “${file}”.`);
        return { candidate, maps };
      })
      .filter(({ maps }) => maps.length > 0);
    const before = await snapshotOf(db, ids);
    const names = [...new Set(files.map(({ file }) => lastName(file)))];
    const what = names.length > 3 ? `${names.length} files` : names.join(", ");

    if ("material" in to) {
      const given = await giveTo(db, to.material, taken, { intake, what, person });
      return record(db, { intake, before, touched: ids, material: given, candidate: null, person });
    }
    let target = "candidate" in to ? to.candidate : undefined;
    let into = target === undefined ? "a material of its own" : `“${candidates.get(target)!.name}”`;
    const there = target === undefined ? [] : [...candidates.get(target)!.maps];
    if (target === undefined) {
      const name = nameOfFile(files[0].file);
      target = await insertBeside(db, taken[0].candidate.id, name);
      into = `a material of its own, “${name}”`;
    }
    for (const { candidate, maps } of taken) {
      if (candidate.id === target) throw badField("/to", "The file lies there already.");
      const twice = maps.find(({ file }) => there.some((map) => map.file === file));
      if (twice) throw conflict(`${into} has a file “${twice.file}” already.`);
      const moved = movedMaps(maps, there);
      await moveRows(db, candidate.id, target, moved);
      there.push(...moved);
    }
    const touched = [...new Set([...ids, target])];
    return record(db, {
      intake,
      before,
      touched,
      material: null,
      candidate: target,
      person,
      said: `${what}: into ${into}`,
    });
  });
}

interface Taken {
  candidate: CandidateRow;
  maps: CandidateRow["maps"];
}

const takenOutReason = (material: string) => `It was given to ${material}.`;

async function giveTo(
  db: Db,
  id: string,
  taken: Taken[],
  { intake, what, person }: { intake: string; what: string; person: Person },
) {
  const material = await lockMaterial(db, id);
  if (!material) throw notFound("material");
  const maps = taken.flatMap(({ maps }) => maps);
  const asked = maps.find(({ role }) => role === "unknown");
  if (asked) throw badField("/files", `Say first what ${lastName(asked.file)} is.`);
  const after = await giveMapsIn(
    db,
    material,
    maps.map(({ role, sha256, channel, file, normalDirection }) => ({
      ...{ role: role as Exclude<typeof role, "unknown">, sha256, channel, fileName: file, normalDirection },
    })),
    person,
  );
  for (const one of taken)
    await takeRowsOut(db, {
      ...{ intake, candidate: one.candidate.id, files: one.maps.map(({ file }) => file) },
      reason: takenOutReason(material.name),
    });
  return {
    ...{ id, name: material.name, before: material.revision, after },
    said: `${what}: given to “${material.name}” as its ${maps.map(({ role }) => ROLE_NAMES[role as Exclude<typeof role, "unknown">]).join(", ")}`,
  };
}

async function record(
  db: Db,
  move: {
    intake: string;
    before: Awaited<ReturnType<typeof snapshotOf>>;
    touched: string[];
    material: Awaited<ReturnType<typeof giveTo>> | null;
    candidate: string | null;
    person: Person;
    said?: string;
  },
): Promise<Moved> {
  const { intake, before, touched, material, candidate, person } = move;
  await settleTouched(db, touched);
  const said = material?.said ?? move.said!;
  const id = await insertMove(db, {
    ...{ intake, said, before, touched, material, person: person.id },
    leftAs: await layOf(db, touched),
  });
  await judgeLater(db, intake);
  return { id, said, candidate, material: material?.id ?? null };
}

/** Puts everything back as it was before a move. @throws {Problem} where any of it was changed since */
export function undoMove(id: string, person: Person): Promise<{ intake: string }> {
  return inTransaction(async (db) => {
    const move = await lockMove(db, id);
    if (!move) throw notFound("move");
    const { intake, before, touched, leftAs, material } = move;
    await lockReviewed(db, intake);
    if ((await layOf(db, touched)) !== leftAs)
      throw conflict("What it moved was changed since, or taken in: undo what came later first.");
    if (material !== null) {
      const now = await lockMaterial(db, material);
      if (now?.revision !== move.revisionAfter)
        throw conflict("The material was saved since: restore its revision there.");
      const old = await findMaterial(db, material, move.revisionBefore!);
      if (!old) throw notFound("revision");
      await restoreIn(db, now!, move.revisionBefore!, person);
      const files = before.maps.map((map) => (map as { file: string }).file);
      await forgetTakenOut(db, intake, files, takenOutReason(now!.name));
    }
    await putBack(db, before, touched);
    await markUndone(db, id);
    await judgeLater(db, intake);
    return { intake };
  });
}
