import { statfs } from "node:fs/promises";
import { database } from "#server/db/database";
import { newestSweep, type SweepRow } from "#server/upkeep/sweeps";
import { databaseFigures } from "#server/db/figures";
import { listFailures, listQueue, listWorkers } from "#server/jobs/queries";
import { listGuessed } from "#server/auth/wrongPasswords";
import { settings } from "#server/settings";

/** What the keeper of a studio needs to know of the machine: the queue, who works on it, the disk, and what failed. */
export async function readUpkeep() {
  const db = database();
  const [queue, workers, failures, figures, disk, sweep, guessed] = await Promise.all([
    listQueue(db),
    listWorkers(db),
    listFailures(db),
    databaseFigures(db),
    statfs(settings().dataFolder),
    newestSweep(db),
    listGuessed(db),
  ]);
  return {
    queue,
    workers: workers.map(({ id, seen_at }) => ({ id, seenAt: seen_at.toISOString() })),
    failures: failures.map(({ at, ...failure }) => ({ ...failure, at: at.toISOString() })),
    guessed: guessed.map(({ last, ...one }) => ({ ...one, last: last.toISOString() })),
    ...figures,
    disk: { freeBytes: disk.bavail * disk.bsize, bytes: disk.blocks * disk.bsize },
    sweep: sweep ? summed(sweep) : null,
  };
}

/** Left-over files that are shown one by one. */
const SHOWN = 12;

/** What a page shows of a sweep, which may have found any number of files. */
function summed({ found, ...sweep }: SweepRow) {
  return {
    ...sweep,
    found: found && {
      count: found.length,
      bytes: found.reduce((sum, { bytes }) => sum + bytes, 0),
      first: found.slice(0, SHOWN),
    },
  };
}
export type SweepSummary = ReturnType<typeof summed>;
