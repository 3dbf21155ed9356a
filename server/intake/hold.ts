import { inTransaction } from "#server/db/database";
import { findIntake, setHold, setIntakeState, type IntakeRow } from "#server/db/intakes";
import { announce } from "#server/events/events";
import { addJob } from "#server/jobs/queue";
import { conflict, notFound } from "#server/problem";

/**
 * Reads an intake that failed once more, from the files that are kept: after a full disk nobody has to send them again.
 * @throws {Problem} where it did not fail, or nothing of it is kept
 */
export async function readAgain(id: string): Promise<IntakeRow> {
  return inTransaction(async (db) => {
    await db.query("SELECT 1 FROM intakes WHERE id = $1 FOR UPDATE", [id]);
    const intake = await findIntake(db, id);
    if (!intake) throw notFound("intake");
    if (intake.state !== "failed")
      throw conflict(`It is “${intake.state}”; only an intake that failed is read again.`);
    if (intake.uploads.length === 0) throw conflict("Nothing of it was kept. Hand the files in again.");
    await setIntakeState(db, id, "reading");
    await addJob(db, "read-intake", { intake: id });
    await announce(db, { topic: "intake", id, state: "reading" });
    return (await findIntake(db, id))!;
  });
}

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
