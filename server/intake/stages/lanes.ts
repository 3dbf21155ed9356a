import { z } from "zod";
import { database, type Db, oneRow } from "#server/db/database";
import { readOn } from "#server/intake/stages/read";
import { addJob, addJobUnlessThere } from "#server/jobs/queue";

/**
 * Reads an intake for one turn, and queues its lane again behind whatever waits by then: intakes take turns, so that a small one is
 * not behind a large one.
 */
export async function readLane(intake: string, lane: number): Promise<void> {
  if (!(await readOn(intake, lane))) return;
  const lanes = await lanesFor(database(), intake);
  if (lane < lanes) await addJob(database(), "read-intake", { intake, lane });
  for (let other = 0; other < lanes; other++)
    if (other !== lane) await addJobUnlessThere(database(), "read-intake", { intake, lane: other });
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
