import { randomBytes, randomUUID } from "node:crypto";
import type { AddressInfo } from "node:net";
import compression from "compression";
import expressStaticGzip from "express-static-gzip";
import express, { type Express, type NextFunction, type Request, type Response } from "express";
import helmet from "helmet";
import type { ServerBuild } from "react-router";
import { apiRouter } from "#server/http/api/router";
import { CALLS } from "#server/main/calls";
import { refuseDemoPeople } from "#server/auth/demoPeople";
import { closeDatabase, database, onceDatabaseAnswers } from "#server/db/database";
import { closeEvents } from "#server/events/events";
import { fileRoutes } from "#server/images/fileRoutes";
import { guardProcess } from "#server/guardProcess";
import { inScope } from "#server/scope";
import { plainAddresses } from "#server/http/addresses";
import { boundedBodies } from "#server/http/bodies";
import { sendError } from "#server/http/errors";
import { boundedServer } from "#server/http/listen";
import { metrics, noteRequest } from "#server/http/metrics";
import { screens } from "#server/http/screens";
import { log } from "#server/log";
import { Problem } from "#server/problem";
import { settings } from "#server/settings";
import { resumableUploads, UPLOADS_PATH } from "#server/intake/receiving/resumable";

/** The web process: the HTTP interface, files, and the screens. */
export function createApp(build: ServerBuild, isReady = () => true): Express {
  const app = express();
  app.disable("x-powered-by");
  app.disable("etag");
  app.set("trust proxy", "loopback");
  app.use(requestMarks);
  app.use(securityHeaders());
  app.use(plainAddresses);
  app.use(boundedBodies);
  app.get("/healthz", (_request, response) => void response.send("ok"));
  app.get("/readyz", (_request, response, next) => {
    if (!isReady()) return next(notReady());
    database()
      .query("SELECT 1")
      .then(
        () => response.send("ok"),
        () => next(notReady()),
      );
  });
  app.get("/metrics", metrics);
  app.use((_request, _response, next) => next(isReady() ? undefined : notReady()));
  app.use(sameOrigin);
  app.use("/assets", assets());
  app.use("/favicon.svg", express.static("build/client/favicon.svg", { maxAge: "1h" }));
  app.use(fileRoutesAt());
  app.use(UPLOADS_PATH, resumableUploads());
  app.use("/api/v1", compressed(), apiRouter(CALLS));
  app.use(screens(build));
  app.use(sendError);
  return app;
}

const notReady = () =>
  new Problem(
    503,
    "Not just now",
    "The database does not answer just now. Try again in a few seconds; nothing is lost.",
  );

/** What a browser keeps for good; packed once, when it is built. */
const assets = () =>
  expressStaticGzip("build/client/assets", {
    enableBrotli: true,
    orderPreference: ["br", "gz"],
    serveStatic: { immutable: true, maxAge: "1y", fallthrough: false },
  });

/** Answers, quickly: the last percents of size cost several times the time. */
function compressed() {
  return compression({
    level: 1,
    filter: (request, response) =>
      response.getHeader("Content-Type") !== "text/event-stream" && compression.filter(request, response),
  });
}

/** Files stand beside the screens, and answer only for their own two paths. */
function fileRoutesAt() {
  const routes = fileRoutes();
  return (request: Request, response: Response, next: NextFunction) =>
    /^\/(previews|files)\//.test(request.path)
      ? routes(request, response, (error?: unknown) =>
          error ? next(error) : response.status(404).type("text").send("There is no such file."),
        )
      : next();
}

function requestMarks(request: Request, response: Response, next: NextFunction): void {
  const id = randomUUID();
  response.locals.nonce = randomBytes(16).toString("base64");
  response.locals.requestId = id;
  response.setHeader("X-Request-Id", id);
  const start = performance.now();
  response.on("close", () => {
    const ms = performance.now() - start;
    const { method, originalUrl } = request;
    // Without the query: what people look for is theirs.
    const path = originalUrl.split("?")[0].slice(0, 500);
    noteRequest(path, response.statusCode, ms);
    log.info(
      {
        request: id,
        method,
        path,
        status: response.statusCode,
        ms: Math.round(ms),
        cut: !response.writableFinished,
      },
      "request",
    );
  });
  // What nobody awaits and what errs beside its request ends that request alone.
  inScope({ request: id, what: `request ${id}`, end: () => failed(response) }, next);
}

function failed(response: Response): void {
  if (response.headersSent) return void response.destroy();
  response.status(500).type("text").send("Something went wrong here, and is logged.");
}

/**
 * Scripts and style sheets come only from our own files or carry the page's nonce. Single elements may be styled by their
 * attribute, as rulers and samples at scale are.
 */
const POLICY = [
  "default-src 'self'",
  "img-src 'self' data: blob:",
  "connect-src 'self' blob:",
  "worker-src 'self' blob:",
  "object-src 'none'",
  "base-uri 'self'",
  "form-action 'self'",
  "frame-ancestors 'none'",
  "style-src-attr 'unsafe-inline'",
].join(";");

function securityHeaders() {
  const others = helmet({
    contentSecurityPolicy: false,
    strictTransportSecurity: settings().secureCookies,
    crossOriginEmbedderPolicy: false,
    // Without a referrer a form that is sent before our scripts have come says of its origin that it is none, and is refused below.
    referrerPolicy: { policy: "same-origin" },
  });
  return (request: Request, response: Response, next: NextFunction): void => {
    const own = `'self' 'nonce-${response.locals.nonce as string}'`;
    response.setHeader("Content-Security-Policy", `${POLICY};script-src ${own};style-src ${own}`);
    others(request, response, next);
  };
}

/** A form on somebody else's page must not act with our visitor's session. */
function sameOrigin(request: Request, _response: Response, next: NextFunction): void {
  const { origin, host } = request.headers;
  const safe = ["GET", "HEAD", "OPTIONS"].includes(request.method);
  if (!safe && origin !== undefined && (!URL.canParse(origin) || new URL(origin).host !== host))
    return next(new Problem(403, "Not allowed", "The request comes from another site."));
  next();
}

/** Listens until the process is told to stop, and then lets running requests end. While the database is away it says so. */
export async function start(): Promise<void> {
  const { port } = settings();
  guardProcess.install();
  let ready = false;
  const build = (await import("virtual:react-router/server-build")) as unknown as ServerBuild;
  const server = boundedServer(createApp(build, () => ready)).listen(port, () => {
    log.info({ port: (server.address() as AddressInfo).port }, "The web process listens.");
  });
  server.on("error", (error) => {
    log.fatal(`Port ${port} cannot be used: ${error.message}`);
    process.exit(1);
  });
  for (const signal of ["SIGINT", "SIGTERM"] as const)
    process.once(signal, () => {
      const leave = () => process.exit(0);
      server.close(() => void Promise.all([closeEvents(), closeDatabase()]).then(leave, leave));
      server.closeAllConnections();
    });
  await onceDatabaseAnswers(refuseDemoPeople);
  ready = true;
}
