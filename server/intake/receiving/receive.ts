import type { IncomingMessage } from "node:http";
import { database, inTransaction } from "#server/db/database";
import { insertFile } from "#server/store/sql";
import { findIntake, type IntakeRow } from "#server/intake/queries";
import { insertUpload } from "#server/intake/receiving/sql";
import { insertIntake, setIntakeState, type IntakeOptions } from "#server/intake/writes";
import type { Person } from "#server/auth/person";
import { announce } from "#server/events/events";
import { bytesLeftToday, checkDayLimit } from "#server/intake/receiving/dayLimit";
import { readOptions } from "#server/intake/intakeOptions";
import { receiveForm, type Upload } from "#server/http/receiveForm";
import { addJob } from "#server/jobs/queue";
import { badField } from "#server/problem";
import { settings } from "#server/settings";

/**
 * Streams a multipart request to disk, and hands the intake to the queue once all of it is there. A connection that
 * breaks leaves no intake behind.
 */
export async function receiveIntake(request: IncomingMessage, person: Person): Promise<IntakeRow> {
  // Before anything is written, and again once it is known how much came.
  await checkDayLimit(person.id, Number(request.headers["content-length"] ?? 0));
  const { uploads, fields } = await receiveForm(request, {
    field: "files",
    mostFiles: 2000,
    mostOfOne: settings().maxUploadBytes,
    most: await bytesLeftToday(person.id),
  });
  const options = readOptions(fields);
  if (uploads.length === 0)
    throw badField("/files", "No file came. Send one or more images or zips in the field “files”.");
  await checkDayLimit(
    person.id,
    uploads.reduce((sum, { bytes }) => sum + bytes, 0),
  );
  return startIntake(uploads, options, person.id);
}

/** Makes an intake of files that lie in the store, and hands it to the queue. */
export async function startIntake(
  uploads: Upload[],
  options: IntakeOptions,
  person: string,
): Promise<IntakeRow> {
  const id = await inTransaction(async (db) => {
    const intake = await insertIntake(db, person, options);
    for (const [position, upload] of uploads.entries()) {
      await insertFile(db, {
        sha256: upload.sha256,
        bytes: upload.bytes,
        mediaType: "application/octet-stream",
      });
      await insertUpload(db, intake, position, upload);
    }
    await setIntakeState(db, intake, "reading");
    await addJob(db, "read-intake", { intake, lane: 0 });
    await announce(db, { topic: "intake", id: intake, state: "reading" });
    return intake;
  });
  return (await findIntake(database(), id))!;
}
