import { EVENTS, Server, type Upload } from "@tus/server";
import type { NextFunction, Request, Response } from "express";
import { requireCall } from "#server/auth/access";
import { whoAsks } from "#server/auth/whoAsks";
import { database, inTransaction } from "#server/db/database";
import { insertFile } from "#server/store/sql";
import { findReceiving } from "#server/intake/queries";
import { announceUpload, forgetUpload, insertUpload } from "#server/intake/receiving/sql";
import type { Person } from "#server/auth/person";
import { announceStep } from "#server/events/events";
import { awayProblem } from "#server/http/away";
import { checkDayLimit } from "#server/intake/receiving/dayLimit";
import { safeName } from "#server/opening/safeName";
import { log } from "#server/log";
import { diskTrouble } from "#server/ownFault";
import { conflict, notFound, Problem } from "#server/problem";
import { settings } from "#server/settings";
import { intakeInMetadata, intakeOfUpload, uploadId } from "#server/intake/receiving/uploadIds";
import { uploads } from "#server/intake/receiving/uploads";
import { uploadLocks } from "#server/intake/receiving/uploadLocks";

const MOST_FILES = 100_000;

export const UPLOADS_PATH = "/api/v1/uploads";

/**
 * Uploads that go on where they were (the tus protocol, 1.0). Each belongs to an intake that its sender has begun; a finished one is
 * moved to the store and listed with the intake.
 */
export function resumableUploads() {
  let server: Server | undefined;
  return (request: Request, response: Response, next: NextFunction): void => {
    mayUpload(request)
      .then(() => {
        server ??= makeServer();
        request.url = request.originalUrl;
        return server.handle(request, response);
      })
      .catch(next);
  };
}

function makeServer(): Server {
  /** Nothing of an upload stays that cannot be gone on with. */
  const drop = async (id: string) => {
    await uploads().drop(id);
    await forgetUpload(database(), id);
  };
  const server = new Server({
    path: UPLOADS_PATH,
    datastore: uploads().protocol,
    relativeLocation: true,
    maxSize: settings().maxUploadBytes,
    locker: uploadLocks,
    namingFunction(_request, metadata) {
      const id = uploadId(metadata?.intake ?? "");
      // It becomes a file's name.
      if (!intakeOfUpload(id))
        throw new Problem(400, "No intake", "The metadata “intake” is no intake's id.");
      return id;
    },
    async onUploadCreate(_request, { id, size }) {
      await announceUpload(database(), { id, intake: intakeOfUpload(id)!, bytes: size ?? 0 });
      return {};
    },
    async onUploadFinish(_request, upload) {
      try {
        await finish(upload);
      } finally {
        await drop(upload.id);
      }
      return {};
    },
    async onResponseError(request, thrown) {
      const { status_code, body } = inWords(thrown);
      const id = new URL(request.url).pathname.slice(UPLOADS_PATH.length + 1);
      // What did not fit, or could not be written, would lie there until somebody sweeps.
      if (intakeOfUpload(id) && [413, 507].includes(status_code))
        await drop(id).catch((error: Error) => log.warn({ err: error }, "an upload that did not fit"));
      return { status_code, body };
    },
  });
  server.on(EVENTS.POST_TERMINATE, (_request, _response, id) => {
    forgetUpload(database(), id).catch((error: Error) => log.warn({ err: error }, "a dropped upload"));
  });
  return server;
}

/** What a sender is told: of ourselves in our words, of the protocol in a few of our own, and of nothing else anything. */
function inWords(thrown: Error | { status_code: number; body: string }): {
  status_code: number;
  body: string;
} {
  const say = ({ status, detail }: Problem) => ({ status_code: status, body: detail });
  if (thrown instanceof Problem) return say(thrown);
  const away = awayProblem(thrown);
  if (away) return say(away);
  const disk = diskTrouble(thrown);
  if (disk !== undefined) return { status_code: 507, body: disk };
  const status = "status_code" in thrown ? thrown.status_code : 500;
  if (status === 413)
    return { status_code: status, body: "The upload is larger than it may be, or than it said." };
  if (status >= 400 && status < 500)
    return { status_code: status, body: "The upload cannot be gone on with as it was asked (tus 1.0)." };
  log.error({ err: thrown }, "an upload failed");
  // Most often the disk: the protocol's library tells no more.
  return { status_code: 507, body: "The upload could not be written. Make room, and send it again." };
}

/** @throws {Problem} for anybody but the sender of the intake, and once everything has arrived. */
async function mayUpload(request: Request): Promise<void> {
  if (request.method === "OPTIONS") return;
  const person: Person = requireCall(await whoAsks(request), "* /uploads");
  const isNew = request.method === "POST";
  const id = isNew
    ? intakeInMetadata(request.header("Upload-Metadata"))
    : intakeOfUpload(request.path.slice(1));
  if (!id)
    throw new Problem(
      400,
      "No intake",
      "Begin an intake, and name it in the metadata “intake” of each upload.",
    );
  const intake = await findReceiving(database(), id);
  if (!intake) throw notFound("intake");
  if (intake.personId !== person.id)
    throw new Problem(
      403,
      "Not allowed",
      `${intake.person} is sending this intake; only they can go on with it.`,
    );
  if (intake.state !== "receiving") throw conflict("Everything of this intake has arrived already.");
  if (!isNew) return;
  const length = request.header("Upload-Length") ?? "";
  if (request.header("Upload-Defer-Length") !== undefined || !/^\d{1,15}$/.test(length))
    throw new Problem(
      400,
      "No length",
      "Say the length of the upload (Upload-Length): it counts from the start.",
    );
  await checkDayLimit(person.id, Number(length));
}

async function finish(upload: Upload): Promise<void> {
  const intake = intakeOfUpload(upload.id)!;
  const position = Number(upload.metadata?.position);
  const name = safeName(upload.metadata?.name ?? "");
  if (!Number.isInteger(position) || position < 0 || position > MOST_FILES)
    throw new Problem(400, "No position", `Say the “position” of each upload, from 0 to ${MOST_FILES}.`);
  const kept = await uploads().take(upload);
  await inTransaction(async (db) => {
    await insertFile(db, { ...kept, mediaType: "application/octet-stream" });
    await insertUpload(db, intake, position, { name, sha256: kept.sha256 });
    await announceStep(db, { topic: "intake", id: intake, state: "receiving" });
  });
}
