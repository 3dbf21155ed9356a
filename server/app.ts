import { randomBytes, randomUUID } from "node:crypto";
import type { AddressInfo } from "node:net";
import { createRequestHandler } from "@react-router/express";
import compression from "compression";
import express, { type Express, type NextFunction, type Request, type Response } from "express";
import helmet from "helmet";
import { RouterContextProvider, type ServerBuild } from "react-router";
import { apiRouter } from "#server/api/router";
import { refuseDemoPeople } from "#server/auth/demoPeople";
import { addressContext, nonceContext, personContext, requestContext } from "#server/auth/personContext";
import { personOfSession } from "#server/auth/sessions";
import { closeDatabase, database } from "#server/db/database";
import { closeEvents } from "#server/events/events";
import { fileRoutes } from "#server/files/routes";
import { Problem } from "#server/problem";
import { settings } from "#server/settings";
import { resumableUploads, UPLOADS_PATH } from "#server/uploads/resumable";
import { log } from "#server/log";

/** The web process: the HTTP interface, files, and the screens. */
export function createApp(build: ServerBuild): Express {
  const app = express();
  app.disable("x-powered-by");
  app.set("trust proxy", "loopback");
  app.use(requestMarks);
  app.use(securityHeaders);
  app.get("/healthz", (_request, response) => void response.send("ok"));
  app.get("/readyz", (_request, response) => {
    database()
      .query("SELECT 1")
      .then(
        () => response.send("ok"),
        () => response.status(503).send("The database does not answer."),
      );
  });
  app.use(sameOrigin);
  app.use(
    compression({
      filter: (request, response) =>
        response.getHeader("Content-Type") !== "text/event-stream" && compression.filter(request, response),
    }),
  );
  app.use("/assets", express.static("build/client/assets", { immutable: true, maxAge: "1y" }));
  app.use(express.static("build/client", { maxAge: "1h", index: false }));
  app.use(UPLOADS_PATH, resumableUploads());
  app.use("/api/v1", apiRouter());
  app.use(fileRoutesAt());
  app.use(
    createRequestHandler({
      build,
      async getLoadContext(request, response) {
        const context = new RouterContextProvider();
        context.set(personContext, (await personOfSession(request.headers.cookie)) ?? null);
        context.set(addressContext, request.ip ?? "unknown");
        context.set(nonceContext, response.locals.nonce as string);
        context.set(requestContext, response.locals.requestId as string);
        return context;
      },
    }),
  );
  app.use(sendError);
  return app;
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
  response.locals.nonce = randomBytes(16).toString("base64");
  response.locals.requestId = randomUUID();
  response.setHeader("X-Request-Id", response.locals.requestId as string);
  const start = performance.now();
  response.on("close", () => {
    const { method, originalUrl } = request;
    // Without the query: what people look for is theirs.
    const path = originalUrl.split("?")[0];
    const line = { request: response.locals.requestId as string, method, path, status: response.statusCode };
    log.info(
      { ...line, ms: Math.round(performance.now() - start), cut: !response.writableFinished },
      "request",
    );
  });
  next();
}

/** Scripts run only from our own files or with the page's nonce; styles may be set by code, as charts and rulers do. */
function securityHeaders(request: Request, response: Response, next: NextFunction): void {
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'", `'nonce-${response.locals.nonce as string}'`],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", "data:", "blob:"],
        fontSrc: ["'self'"],
        connectSrc: ["'self'", "blob:"],
        workerSrc: ["'self'", "blob:"],
        objectSrc: ["'none'"],
        baseUri: ["'self'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
    },
    strictTransportSecurity: settings().secureCookies,
    crossOriginEmbedderPolicy: false,
  })(request, response, next);
}

/** A form on somebody else's page must not act with our visitor's session. */
function sameOrigin(request: Request, _response: Response, next: NextFunction): void {
  const { origin, host } = request.headers;
  const safe = ["GET", "HEAD", "OPTIONS"].includes(request.method);
  if (!safe && origin !== undefined && (!URL.canParse(origin) || new URL(origin).host !== host))
    return next(new Problem(403, "Not allowed", "The request comes from another site."));
  next();
}

function sendError(error: unknown, request: Request, response: Response, next: NextFunction): void {
  if (response.headersSent) return next(error);
  if (error instanceof Problem) return void response.status(error.status).type("text").send(error.detail);
  log.error({ err: error, request: response.locals.requestId as string, path: request.path }, "defect");
  response
    .status(500)
    .type("text")
    .send(`Something went wrong here. Tell the keeper this number: ${response.locals.requestId as string}`);
}

/** Listens until the process is told to stop, and then lets running requests end. */
export async function start(): Promise<void> {
  const { port } = settings();
  await refuseDemoPeople();
  const build = (await import("virtual:react-router/server-build")) as unknown as ServerBuild;
  const server = createApp(build).listen(port, () => {
    log.info({ port: (server.address() as AddressInfo).port }, "The web process listens.");
  });
  server.on("error", (error) => {
    log.fatal(`Port ${port} cannot be used: ${error.message}`);
    process.exit(1);
  });
  // A slow upload of a large download is no attack.
  server.requestTimeout = 0;
  for (const signal of ["SIGINT", "SIGTERM"] as const)
    process.once(signal, () => {
      server.close(() => void Promise.all([closeEvents(), closeDatabase()]).then(() => process.exit(0)));
      server.closeAllConnections();
    });
}
