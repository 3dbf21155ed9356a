import { z } from "zod";
import type { Person } from "#server/auth/person";
import { requireLevel } from "#server/auth/levels";
import { deleteCollection, updateCollection } from "#server/collection/writes";
import { database, inTransaction, rows } from "#server/db/database";
import { announce } from "#server/events/events";
import { merge, planMerge } from "#server/merge/commands";
import { conflict, notFound, Problem } from "#server/problem";
import { changeProjectMembers, projectsTaking, settleRevisions } from "#server/project/writes";
import { listSameContents, listTwinIntakes } from "#server/tidy/queries";

/** So many pairs are merged at a time: the rest stands there as before. */
export const MOST_MERGED = 100;

/** What became of merging what two intakes have in common. */
export interface MergedTwins {
  merged: number;
  /** Names with the reason. */
  failed: { name: string; reason: string }[];
}

/**
 * Merges each material of a later intake with the one of an earlier intake that has the same files, as is proposed for the two; each is
 * undone by itself. @throws {Problem} where the two have nothing in common
 */
export async function mergeTwins(first: string, later: string, person: Person): Promise<MergedTwins> {
  const twins = (await listTwinIntakes(database())).find(
    (one) => one.first.id === first && one.later.id === later,
  );
  if (!twins) throw notFound("pair of intakes");
  const outcome: MergedTwins = { merged: 0, failed: [] };
  const gone = new Set<string>();
  for (const [one, other] of twins.pairs) {
    if (outcome.merged + outcome.failed.length >= MOST_MERGED) break;
    // Of three that are one, the third may have met the first already.
    if (gone.has(one.id) || gone.has(other.id)) continue;
    try {
      const { sides, choice } = await planMerge(one.id, other.id);
      const seen: [number, number] = [sides[0].material.revision, sides[1].material.revision];
      const { lost } = await merge({ first: one.id, second: other.id, seen, choice }, person);
      gone.add(lost);
      outcome.merged++;
    } catch (error) {
      if (!(error instanceof Problem)) throw error;
      outcome.failed.push({ name: one.name, reason: error.detail });
    }
  }
  return outcome;
}

/**
 * Keeps one of several collections that hold the same: projects take it in place of the others, what lies inside the others moves into it,
 * and the others are deleted. @throws {Problem} where they do not hold the same any more
 */
export async function keepOneCollection(keep: string, person: Person): Promise<{ deleted: string[] }> {
  requireLevel(person, "keep");
  return inTransaction(async (db) => {
    const same = (await listSameContents(db)).find(({ collections }) =>
      collections.some(({ id }) => id === keep),
    );
    if (!same) throw conflict("It holds the same as no other collection any more. Load the page again.");
    const others = same.collections.filter(({ id }) => id !== keep);
    const deleted: string[] = [];
    const had = new Set(await projectsTaking(db, keep));
    for (const { id, name } of others) {
      const taking = await projectsTaking(db, id);
      // Who had it through one around it would lose what it held as well.
      for (const project of taking)
        await changeProjectMembers(db, "collections", project, {
          add: had.has(project) ? [] : [keep],
          remove: [id],
        });
      for (const project of taking) had.add(project);
      const inside = await rows(
        db,
        z.object({ id: z.string() }),
        "SELECT id FROM collections WHERE parent = $1",
        [id],
      );
      for (const child of inside)
        if (child.id !== keep) await updateCollection(db, child.id, { parent: keep });
      await deleteCollection(db, id);
      for (const project of taking) await settleRevisions(db, project);
      deleted.push(name);
    }
    await announce(db, { topic: "library", id: keep });
    return { deleted };
  });
}
