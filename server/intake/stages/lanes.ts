import { z } from "zod";
import { database, type Db, oneRow, rows } from "#server/db/database";
import { readOn } from "#server/intake/stages/read";
import { addJob, addJobUnlessThere, isAnyWaiting } from "#server/jobs/queue";

/**
 * Reads an intake for one turn, and queues its lane again behind whatever waits by then: intakes take turns, so that a small one is
 * not behind a large one.
 */
export async function readLane(intake: string, lane: number): Promise<void> {
  if (!(await readOn(intake, lane))) return;
  const lanes = await lanesFor(database(), intake);
  const wanted = Array.from({ length: lanes }, (_, at) => ({ intake, lane: at }));
  for (const other of wanted)
    if (other.lane !== lane) await addJobUnlessThere(database(), "read-intake", other);
  // One too many goes only where another one is sure to come: one that is worked on may be about to end.
  if (lane < lanes || !(await isAnyWaiting(database(), "read-intake", wanted)))
    await addJob(database(), "read-intake", { intake, lane });
}

/**
 * Queues a lane for each intake that is being read and has none, as a database that was put back, or an earlier version, may have left it.
 */
export async function readForgotten(db: Db): Promise<void> {
  const forgotten = await rows(
    db,
    z.object({ id: z.string() }),
    `SELECT id FROM intakes i WHERE state = 'reading' AND hold IS DISTINCT FROM 'pause'
        AND NOT EXISTS (SELECT FROM graphile_worker.jobs WHERE starts_with(key, 'read-intake:' || i.id || ':'))`,
  );
  for (const { id } of forgotten) await addJobUnlessThere(db, "read-intake", { intake: id, lane: 0 });
}

/**
 * How many lanes an intake has: as many as all living workers have room for, shared out among the intakes of the same person that are
 * being read.
 */
async function lanesFor(db: Db, intake: string): Promise<number> {
  const row = await oneRow(
    db,
    z.object({ lanes: z.number() }),
    `SELECT ceil(greatest(1, (SELECT sum(lanes) FROM (SELECT max(lanes) AS lanes FROM workers GROUP BY coalesce(process, id)) AS living))::float8
       / greatest(1, (SELECT count(*) FROM intakes other
                       WHERE other.person = i.person AND other.state = 'reading' AND other.hold IS DISTINCT FROM 'pause')))::int AS lanes
       FROM intakes i WHERE i.id = $1`,
    [intake],
  );
  return row?.lanes ?? 0;
}
