import { open } from "node:fs/promises";
import express, { type NextFunction, type Request, type Response, type Router } from "express";
import { MAP_CHANNELS } from "#core/roles/channel";
import { requireCall } from "#server/auth/access";
import { whoAsks } from "#server/auth/whoAsks";
import { database } from "#server/db/database";
import { findImage } from "#server/images/queries";
import { findFile } from "#server/store/sql";
import { fileStore } from "#server/store/store";
import { addJob } from "#server/jobs/queue";
import { isPreviewPart, previewName, previewParts, previewType } from "#server/pixels/previews";

/** A hash names its content for ever, so whoever may look keeps it for a year. */
const FOR_EVER = "private, max-age=31536000, immutable";

const PREVIEWS = "/previews/:sha256/:channel/:part";
const FILES = "/files/:sha256";

const isHash = (text: string) => /^[0-9a-f]{64}$/.test(text);

/** Original files and previews by hash, with byte ranges. */
export function fileRoutes(): Router {
  const router = express.Router();
  const checked =
    (call: string) =>
    <P>(request: Request<P>, _response: Response, next: NextFunction) => {
      whoAsks(request as Request)
        .then((person) => requireCall(person, call))
        .then(() => next(), next);
    };
  router.get(PREVIEWS, checked(`GET ${PREVIEWS}`), (request, response, next) => {
    const { sha256, channel, part } = request.params;
    const known = MAP_CHANNELS.find((one) => one === channel);
    if (!isHash(sha256) || !known || !isPreviewPart(part)) return next();
    const path = fileStore().derivedPath(previewName(sha256, known, part));
    readHead(path)
      .then(async (head) => {
        if (head) return send(response, next, path, previewType(head));
        // Lost, or never made: the worker makes it again, and the page is told.
        const image = await findImage(database(), sha256);
        if (image && previewParts(image).includes(part))
          await addJob(database(), "heal-previews", { sha256, channel: known });
        next();
      })
      .catch(next);
  });

  router.get(FILES, checked(`GET ${FILES}`), (request: Request<{ sha256: string }>, response, next) => {
    const { sha256 } = request.params;
    if (!isHash(sha256)) return next();
    findFile(database(), sha256).then((file) => {
      if (!file) return next();
      // Never shown as a page of ours, whatever somebody has sent in.
      response.setHeader("Content-Disposition", "attachment");
      send(response, next, fileStore().path(sha256), file.media_type);
    }, next);
  });
  return router;
}

function send(response: Response, next: NextFunction, path: string, type: string): void {
  response.setHeader("Cache-Control", FOR_EVER);
  response.type(type);
  response.sendFile(path, { cacheControl: false, lastModified: false, dotfiles: "allow" }, (error) => {
    if (!error || response.headersSent) return;
    if ((error as { status?: number }).status === 416) return void response.status(416).end();
    response.removeHeader("Cache-Control");
    response.removeHeader("Content-Disposition");
    next();
  });
}

/** The first bytes of a file, or undefined where there is none. */
async function readHead(path: string): Promise<Uint8Array | undefined> {
  const handle = await open(path).catch(() => undefined);
  if (!handle) return undefined;
  try {
    return (await handle.read(Buffer.alloc(4), 0, 4, 0)).buffer;
  } finally {
    await handle.close();
  }
}
