import type { IncomingMessage } from "node:http";
import busboy from "busboy";
import { formatBytes } from "#core/length/formatBytes";
import { plainLine } from "#core/text/plainText";
import { database, inTransaction } from "#server/db/database";
import { insertFile } from "#server/store/sql";
import { findIntake, type IntakeRow } from "#server/intake/queries";
import { insertUpload } from "#server/intake/receiving/sql";
import { insertIntake, setIntakeState, type IntakeOptions } from "#server/intake/writes";
import type { Person } from "#server/auth/person";
import { announce } from "#server/events/events";
import { fileStore } from "#server/store/store";
import { bytesLeftToday, checkDayLimit } from "#server/intake/receiving/dayLimit";
import { readOptions } from "#server/intake/intakeOptions";
import { safeName } from "#server/opening/safeName";
import { addJob } from "#server/jobs/queue";
import { badField, Problem } from "#server/problem";
import { settings } from "#server/settings";

/** One file that was sent: its relative path, and where it is kept. */
export interface Upload {
  name: string;
  sha256: string;
  bytes: number;
}

/**
 * Streams a multipart request to disk, and hands the intake to the queue once all of it is there. A connection that
 * breaks leaves no intake behind.
 */
export async function receiveIntake(request: IncomingMessage, person: Person): Promise<IntakeRow> {
  // Before anything is written, and again once it is known how much came.
  await checkDayLimit(person.id, Number(request.headers["content-length"] ?? 0));
  const { uploads, options } = await receiveFiles(request, await bytesLeftToday(person.id));
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

/** @param most bytes of the whole request, counted while it comes */
function receiveFiles(
  request: IncomingMessage,
  most: number,
): Promise<{ uploads: Upload[]; options: IntakeOptions }> {
  const limit = settings().maxUploadBytes;
  return new Promise((resolve, reject) => {
    let form: busboy.Busboy;
    try {
      form = busboy({
        headers: request.headers,
        defParamCharset: "utf8",
        preservePath: true,
        limits: { files: 2000, fields: 10, fieldSize: 10_000, fileSize: limit },
      });
    } catch {
      reject(new Problem(415, "Not a form", "Send the files as multipart/form-data."));
      return;
    }
    const kept: Promise<Upload>[] = [];
    const fields: Record<string, string> = {};
    const fail = (error: unknown) => {
      request.unpipe(form);
      request.resume();
      // Files that are still open end with it, and leave nothing behind.
      form.destroy();
      reject(error instanceof Error ? error : new Error(String(error)));
    };
    let bytes = 0;
    request.on("data", (chunk: Buffer) => {
      bytes += chunk.length;
      if (bytes > most)
        fail(new Problem(413, "Too much", `That is more than you may hand in today (${formatBytes(most)}).`));
    });
    form.on("field", (name, value) => {
      fields[plainLine(name)] = plainLine(value);
    });
    form.on("file", (field, stream, { filename }) => {
      if (field !== "files") {
        stream.resume();
        return;
      }
      const name = safeName(filename ?? "");
      const file = fileStore()
        .keep(stream)
        .then((sum) => {
          if (stream.truncated)
            throw new Problem(
              413,
              "Too large",
              `“${name}” is larger than ${Math.round(limit / 2 ** 20)} MiB.`,
            );
          return { name, ...sum };
        });
      file.catch(fail);
      kept.push(file);
    });
    form.on("error", () =>
      fail(new Problem(400, "Broken upload", "The upload broke off or is no proper form. Send it again.")),
    );
    form.on(
      "close",
      () =>
        void Promise.all(kept)
          .then((uploads) => resolve({ uploads, options: readOptions(fields) }))
          .catch(fail),
    );
    request.on("aborted", () => form.destroy(new Error("aborted")));
    request.pipe(form);
  });
}
