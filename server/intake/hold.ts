import { inTransaction } from "#server/db/database";
import { findIntake, setHold, type IntakeRow } from "#server/db/intakes";
import { announce } from "#server/events/events";
import { addJob } from "#server/jobs/queue";
import { conflict, notFound } from "#server/problem";

/**
 * Lets a reading wait, go on, or stop with what has been read so far. What was read stays read in any case.
 * @throws {Problem} where it is not being read.
 */
export async function holdIntake(id: string, wish: "pause" | "go-on" | "stop"): Promise<IntakeRow> {
  return inTransaction(async (db) => {
    const intake = await findIntake(db, id);
    if (!intake) throw notFound("intake");
    const moved = await setHold(db, id, wish === "go-on" ? null : wish);
    if (!moved) throw conflict(`The intake is not being read any more; it is “${intake.state}”.`);
    // A paused reading has left the queue; stopping it still needs what was read to be put together.
    if (wish !== "pause" && moved.before === "pause") await addJob(db, "read-intake", { intake: id });
    await announce(db, { topic: "intake", id, state: "reading" });
    return (await findIntake(db, id))!;
  });
}
