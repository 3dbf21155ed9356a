import { pipeline } from "node:stream/promises";
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
import { isHash } from "#server/store/hash";

/** A hash names its content for ever, so whoever may look keeps it for a year. */
const FOR_EVER = "private, max-age=31536000, immutable";

const PREVIEWS = "/previews/:sha256/:channel/:part";
const FILES = "/files/:sha256";

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
    fileStore()
      .readDerived(previewName(sha256, known, part))
      .then(async (picture) => {
        if (picture) {
          response.setHeader("Cache-Control", FOR_EVER);
          return void response.type(previewType(picture)).send(picture);
        }
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
    findFile(database(), sha256)
      .then((file) => (file ? sendFile(request, response, file, next) : next()))
      .catch(next);
  });
  return router;
}

/** A kept file or a part of it (RFC 9110, section 14), by a link to the store where it gives one. */
async function sendFile(
  request: Request,
  response: Response,
  { sha256, bytes, media_type: type }: { sha256: string; bytes: number; media_type: string },
  next: NextFunction,
): Promise<void> {
  const store = fileStore();
  const link = await store.link(sha256, type);
  if (link !== undefined) return response.set("Cache-Control", "private, no-store").redirect(302, link);
  if (!(await store.has(sha256))) return next();
  // Never shown as a page of ours, whatever somebody has sent in.
  response.set({
    "Accept-Ranges": "bytes",
    "Cache-Control": FOR_EVER,
    "Content-Disposition": "attachment",
    ETag: `"${sha256}"`,
  });
  if (request.fresh) return void response.status(304).end();
  response.type(type);
  const ranges = request.range(bytes);
  if (ranges === -1) return void response.status(416).set("Content-Range", `bytes */${bytes}`).end();
  // Several parts at once nobody needs: they get the whole.
  const range = Array.isArray(ranges) && ranges.length === 1 ? ranges[0] : undefined;
  if (range) response.status(206).set("Content-Range", `bytes ${range.start}-${range.end}/${bytes}`);
  response.set("Content-Length", String(range ? range.end - range.start + 1 : bytes));
  if (request.method === "HEAD") return void response.end();
  await pipeline(store.stream(sha256, range), response).catch((error: NodeJS.ErrnoException) => {
    // Whoever asked has gone.
    if (error.code === "ERR_STREAM_PREMATURE_CLOSE") return;
    // What is said in its place is not for ever.
    if (!response.headersSent)
      for (const name of ["Cache-Control", "Content-Disposition", "Content-Length", "ETag"])
        response.removeHeader(name);
    throw error;
  });
}
