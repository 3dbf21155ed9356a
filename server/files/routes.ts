import express, { type NextFunction, type Request, type Response, type Router } from "express";
import { requireLevel } from "#server/auth/levels";
import { personOfSession } from "#server/auth/sessions";
import { database } from "#server/db/database";
import { findFile } from "#server/db/files";
import { fileStore } from "#server/files/store";
import { PREVIEW_SIZES, previewName } from "#server/images/previews";

/** A hash names its content for ever, so whoever may look keeps it for a year. */
const FOR_EVER = "private, max-age=31536000, immutable";

const isHash = (text: string) => /^[0-9a-f]{64}$/.test(text);

/** Original files and previews by hash, with byte ranges. */
export function fileRoutes(): Router {
  const router = express.Router();
  router.use((request, _response, next) => {
    personOfSession(request.headers.cookie)
      .then((person) => requireLevel(person, "look"))
      .then(() => next(), next);
  });

  router.get("/previews/:sha256/:channel/:size", (request, response, next) => {
    const { sha256, channel } = request.params;
    const size = PREVIEW_SIZES.find((known) => String(known) === request.params.size);
    if (!isHash(sha256) || (channel !== "color" && channel !== "alpha") || !size) return next();
    send(response, next, fileStore().derivedPath(previewName(sha256, channel, size)), "image/webp");
  });

  router.get("/files/:sha256", (request: Request<{ sha256: string }>, response, next) => {
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
    response.removeHeader("Cache-Control");
    response.removeHeader("Content-Disposition");
    next();
  });
}
