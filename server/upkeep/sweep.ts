import { database, inTransaction } from "#server/db/database";
import { knownHashes } from "#server/store/sql";
import { agreeToSweep, findSweep, insertSweep, setFound, setRemoved } from "#server/upkeep/sweeps";
import type { Person } from "#server/auth/person";
import { announce } from "#server/events/events";
import { addJob } from "#server/jobs/queue";
import { conflict } from "#server/problem";
import { fileStore } from "#server/store/store";
import { findOrphans, LEAST_AGE_MS } from "#server/upkeep/findOrphans";

/** Begins to look for files that nothing refers to. Nothing goes before somebody agrees. */
export async function startSweep(person: Person): Promise<string> {
  return inTransaction(async (db) => {
    const id = await insertSweep(db, person.id);
    await addJob(db, "sweep-files", { sweep: id });
    return id;
  });
}

/** Lets go what a sweep has found. @throws {Problem} where it has found nothing yet, or somebody has agreed before */
export async function agree(id: string): Promise<void> {
  await inTransaction(async (db) => {
    if (!(await agreeToSweep(db, id))) throw conflict("There is nothing to remove, or it is being removed.");
    await addJob(db, "sweep-files", { sweep: id });
  });
}

/** Looks, or removes what was found and still nothing refers to. May be run again at any time. */
export async function runSweep(id: string): Promise<void> {
  const sweep = await findSweep(database(), id);
  if (!sweep || sweep.removed) return;
  const store = fileStore();
  const orphans = await findOrphans(store, (hashes) => knownHashes(database(), hashes), Date.now());
  if (!sweep.agreed_at) await setFound(database(), id, orphans);
  else {
    // What came into use since stays, and what nobody has been told of.
    const told = new Set(sweep.found!.map(({ path }) => path));
    const going = orphans.filter(({ path }) => told.has(path));
    // Sent in again just now, it is young again.
    for (const { path } of going) await store.remove(path, LEAST_AGE_MS);
    await setRemoved(database(), id, {
      files: going.length,
      bytes: going.reduce((sum, { bytes }) => sum + bytes, 0),
    });
  }
  await announce(database(), { topic: "upkeep", id });
}
