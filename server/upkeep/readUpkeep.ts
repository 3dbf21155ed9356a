import { statfs } from "node:fs/promises";
import { database } from "#server/db/database";
import { newestSweep } from "#server/db/sweeps";
import { databaseFigures, listFailures, listQueue, listWorkers } from "#server/db/upkeep";
import { settings } from "#server/settings";

/** What the keeper of a studio needs to know of the machine: the queue, who works on it, the disk, and what failed. */
export async function readUpkeep() {
  const db = database();
  const [queue, workers, failures, figures, disk, sweep] = await Promise.all([
    listQueue(db),
    listWorkers(db),
    listFailures(db),
    databaseFigures(db),
    statfs(settings().dataFolder),
    newestSweep(db),
  ]);
  return {
    queue,
    workers: workers.map(({ id, seen_at }) => ({ id, seenAt: seen_at.toISOString() })),
    failures: failures.map(({ at, ...failure }) => ({ ...failure, at: at.toISOString() })),
    ...figures,
    disk: { freeBytes: disk.bavail * disk.bsize, bytes: disk.blocks * disk.bsize },
    sweep: sweep ?? null,
  };
}
