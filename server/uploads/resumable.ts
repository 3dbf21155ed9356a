import { createReadStream } from "node:fs";
import { mkdirSync } from "node:fs";
import { rm } from "node:fs/promises";
import { join } from "node:path";
import { FileStore } from "@tus/file-store";
import { Server, type Upload } from "@tus/server";
import type { NextFunction, Request, Response } from "express";
import { requireCall } from "#server/auth/access";
import { whoAsks } from "#server/auth/whoAsks";
import { database, inTransaction } from "#server/db/database";
import { insertFile } from "#server/db/files";
import { findIntake, insertUpload } from "#server/db/intakes";
import type { Person } from "#server/db/people";
import { announce } from "#server/events/events";
import { fileStore } from "#server/files/store";
import { checkDayLimit } from "#server/intake/dayLimit";
import { safeName } from "#server/intake/safeName";
import { conflict, notFound, Problem } from "#server/problem";
import { settings } from "#server/settings";
import { intakeInMetadata, intakeOfUpload, uploadId } from "#server/uploads/uploadIds";

const MOST_FILES = 100_000;

export const UPLOADS_PATH = "/api/v1/uploads";

/**
 * Uploads that go on where they were (the tus protocol, 1.0). Each belongs to an intake that its sender has begun; a finished one is
 * moved to the store and listed with the intake.
 */
export function resumableUploads() {
  const folder = join(settings().dataFolder, "incoming", "uploads");
  let server: Server | undefined;
  return (request: Request, response: Response, next: NextFunction): void => {
    mayUpload(request)
      .then(() => {
        server ??= makeServer(folder);
        request.url = request.originalUrl;
        return server.handle(request, response);
      })
      .catch(next);
  };
}

function makeServer(folder: string): Server {
  mkdirSync(folder, { recursive: true });
  return new Server({
    path: UPLOADS_PATH,
    datastore: new FileStore({ directory: folder }),
    relativeLocation: true,
    maxSize: settings().maxUploadBytes,
    namingFunction(_request, metadata) {
      const id = uploadId(metadata?.intake ?? "");
      // It becomes a file's name.
      if (!intakeOfUpload(id))
        throw new Problem(400, "No intake", "The metadata “intake” is no intake's id.");
      return id;
    },
    async onUploadFinish(_request, upload) {
      await finish(upload, join(folder, upload.id));
      return {};
    },
  });
}

/** @throws {Problem} for anybody but the sender of the intake, and once everything has arrived. */
async function mayUpload(request: Request): Promise<void> {
  if (request.method === "OPTIONS") return;
  const person: Person = requireCall(await whoAsks(request), "* /uploads");
  const id =
    request.method === "POST"
      ? intakeInMetadata(request.header("Upload-Metadata"))
      : intakeOfUpload(request.path.slice(1));
  if (!id)
    throw new Problem(
      400,
      "No intake",
      "Begin an intake, and name it in the metadata “intake” of each upload.",
    );
  const intake = await findIntake(database(), id);
  if (!intake) throw notFound("intake");
  if (intake.personId !== person.id)
    throw new Problem(
      403,
      "Not allowed",
      `${intake.person} is sending this intake; only they can go on with it.`,
    );
  if (intake.state !== "receiving") throw conflict("Everything of this intake has arrived already.");
  if (request.method === "POST") await checkDayLimit(person.id, Number(request.header("Upload-Length") ?? 0));
}

async function finish(upload: Upload, path: string): Promise<void> {
  const intake = intakeOfUpload(upload.id)!;
  const position = Number(upload.metadata?.position);
  const name = safeName(upload.metadata?.name ?? "");
  if (!Number.isInteger(position) || position < 0 || position > MOST_FILES)
    throw new Problem(400, "No position", `Say the “position” of each upload, from 0 to ${MOST_FILES}.`);
  const kept = await fileStore().keep(createReadStream(path));
  await inTransaction(async (db) => {
    await insertFile(db, { ...kept, mediaType: "application/octet-stream" });
    await insertUpload(db, intake, position, { name, sha256: kept.sha256 });
    await announce(db, { topic: "intake", id: intake, state: "receiving" });
  });
  await rm(path, { force: true });
  await rm(`${path}.json`, { force: true });
}
