import { database, inTransaction } from "#server/db/database";
import {
  findIntake,
  insertIntake,
  listUploads,
  setIntakeState,
  type IntakeOptions,
  type IntakeRow,
} from "#server/db/intakes";
import type { Person } from "#server/db/people";
import { announce } from "#server/events/events";
import { makeRoomToBegin } from "#server/intake/abandoned";
import { addJob } from "#server/jobs/queue";
import { conflict, notFound, Problem } from "#server/problem";

/** Begins an intake whose files are sent one by one and can be gone on with. */
export async function beginIntake(
  expected: number,
  options: IntakeOptions,
  person: Person,
): Promise<IntakeRow> {
  await makeRoomToBegin(person.id);
  const id = await insertIntake(database(), person.id, { ...options, expected });
  await announce(database(), { topic: "intake", id, state: "receiving" });
  return (await findIntake(database(), id))!;
}

/** Says that everything was sent, and hands the intake to the queue. @throws {Problem} while something is missing. */
export async function completeIntake(id: string, person: Person): Promise<IntakeRow> {
  return inTransaction(async (db) => {
    await db.query("SELECT 1 FROM intakes WHERE id = $1 FOR UPDATE", [id]);
    const intake = await findIntake(db, id);
    if (!intake) throw notFound("intake");
    if (intake.personId !== person.id)
      throw new Problem(403, "Not allowed", `${intake.person} is sending this intake; only they can end it.`);
    if (intake.state !== "receiving") return intake;
    const arrived = (await listUploads(db, id)).length;
    if (arrived === 0 || arrived < (intake.expected ?? 0))
      throw conflict(
        `${arrived} of ${intake.expected ?? 0} files have arrived. Send the others, and then end it.`,
      );
    await setIntakeState(db, id, "reading");
    await addJob(db, "read-intake", { intake: id });
    await announce(db, { topic: "intake", id, state: "reading" });
    return (await findIntake(db, id))!;
  });
}
