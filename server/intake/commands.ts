import type { Person } from "#server/auth/person";
import { database, inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { type IntakeRow, findIntake, listIgnored } from "#server/intake/queries";
import { makeRoomToBegin } from "#server/intake/receiving/abandoned";
import { startIntake } from "#server/intake/receiving/receive";
import { type IntakeOptions, insertIntake, setIntakeState, setHold } from "#server/intake/writes";
import { addJob } from "#server/jobs/queue";
import { Problem, notFound, conflict } from "#server/problem";
import { listKept } from "#server/store/sql";

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
    const arrived = intake.files;
    if (arrived === 0 || arrived < (intake.expected ?? 0))
      throw conflict(
        `${arrived} of ${intake.expected ?? 0} files have arrived. Send the others, and then end it.`,
      );
    await setIntakeState(db, id, "reading");
    await addJob(db, "read-intake", { intake: id, lane: 0 });
    await announce(db, { topic: "intake", id, state: "reading" });
    return (await findIntake(db, id))!;
  });
}

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
    if (intake.files === 0) throw conflict("Nothing of it was kept. Hand the files in again.");
    await setIntakeState(db, id, "reading");
    await addJob(db, "read-intake", { intake: id, lane: 0 });
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
    if (wish !== "pause" && moved.before === "pause")
      await addJob(db, "read-intake", { intake: id, lane: 0 });
    await announce(db, { topic: "intake", id, state: "reading" });
    return (await findIntake(db, id))!;
  });
}

/**
 * Hands the files that an intake set aside in again, as an intake of their own, with other limits.
 * @throws {Problem} where there is none that was kept
 */
export async function tryAgain(id: string, options: IntakeOptions, person: Person): Promise<IntakeRow> {
  const db = database();
  const intake = await findIntake(db, id);
  if (!intake) throw notFound("intake");
  const aside = (await listIgnored(db, id)).filter(({ kind, sha256 }) => kind === "set-aside" && sha256);
  const bytes = new Map(
    (
      await listKept(
        db,
        aside.map(({ sha256 }) => sha256!),
      )
    ).map((file) => [file.sha256, file.bytes]),
  );
  const uploads = aside
    .filter(({ sha256 }) => bytes.has(sha256!))
    .map(({ file, sha256 }) => ({ name: file, sha256: sha256!, bytes: bytes.get(sha256!)! }));
  if (uploads.length === 0)
    throw conflict("No file that was set aside is kept: there is nothing to try again.");
  return startIntake(uploads, { purpose: intake.purpose, onClash: intake.onClash, ...options }, person.id);
}
