import express, { type NextFunction, type Request, type Response, type Router } from "express";
import { z } from "zod";
import { actingFor } from "#server/actor";
import { plainJson } from "#core/text/plainText";
import { Refusal } from "#core/text/refusal";
import { nameOf, type Call, type RawCall } from "#server/http/api/call";
import { describeCalls } from "#server/http/api/openapi";
import { idSchema } from "#server/http/api/shapes";
import { requireCall } from "#server/auth/access";
import { whoAsks } from "#server/auth/whoAsks";
import { awayProblem, RETRY_AFTER } from "#server/http/away";
import { diskTrouble } from "#server/ownFault";
import { notFound, Problem } from "#server/problem";
import { log } from "#server/log";
import { isHash } from "#server/store/hash";

/** The HTTP interface for scripts, from the list of calls: each is checked for who asks and what is sent. */
export function apiRouter(calls: Call[]): Router {
  const router = express.Router();
  router.get("/openapi.json", (_request, response) => void response.json(describeCalls(calls)));
  const json = express.json({ limit: "1mb", strict: true });
  for (const call of calls) {
    const chain = "raw" in call ? [] : [json];
    router[call.method](call.path, ...chain, (request: Request, response: Response, next: NextFunction) => {
      answer(call, request, response).catch(next);
    });
  }
  router.use((request: Request) => {
    throw new Problem(
      404,
      "Not found",
      `There is no call ${request.method} ${request.originalUrl.split("?")[0]}. See /api/v1/openapi.json.`,
    );
  });
  router.use(sendProblem);
  return router;
}

async function answer(call: Call, request: Request, response: Response): Promise<void> {
  const person = requireCall(await whoAsks(request), nameOf(call));
  const params = request.params as Record<string, string>;
  checkIds(params, call.path);
  return actingFor(person.id, () => answerTo(call, { person, params, request, response }));
}

async function answerTo(
  call: Call,
  { person, params, request, response }: Parameters<RawCall["raw"]>[0],
): Promise<void> {
  if ("raw" in call) return call.raw({ person, params, request, response });
  const sent = Number(request.headers["content-length"] ?? 0) > 0 || "transfer-encoding" in request.headers;
  if (call.body && sent && !request.is("json"))
    throw new Problem(415, "Not JSON", "Send the body as application/json.");
  const body = call.body ? check(call.body, plainJson(request.body ?? {})) : undefined;
  const query = call.query ? check(call.query, plainJson(request.query)) : undefined;
  const result = await call.handle({ person, params, body, query, request, response });
  response.status(call.status).json(call.answer.parse(result));
}

/** Ids in paths are checked here, so that a wrong one is “not found” and no error of the database. */
function checkIds(params: Record<string, string>, path: string): void {
  const what = path.split("/")[1].replace(/ies$/, "y").replace(/s$/, "");
  // A profile's id is a word, and a file's its hash.
  for (const [name, value] of Object.entries(params))
    if (name === "sha256" ? !isHash(value) : name !== "profile" && !idSchema.safeParse(value).success)
      throw notFound(what);
}

function check(schema: z.ZodType, value: unknown): unknown {
  const read = schema.safeParse(value, { reportInput: true });
  if (read.success) return read.data;
  throw problemOf(read.error);
}

/** The first thing that does not fit, with its place and what came. */
function problemOf(error: z.ZodError): Problem {
  const issue = innermost(error.issues[0]);
  const pointer = `/${issue.path.join("/")}`;
  const came = issue.input === undefined ? "" : ` What came is ${JSON.stringify(issue.input).slice(0, 80)}.`;
  return new Problem(
    422,
    "Not acceptable",
    `${issue.path.join(".") || "The request"}: ${issue.message}.${came}`.replaceAll("..", "."),
    pointer,
  );
}

/** Of the branches of a union, the one that got furthest. */
function innermost(issue: z.core.$ZodIssue): z.core.$ZodIssue {
  if (issue.code !== "invalid_union" || issue.errors.length === 0) return issue;
  const branches = issue.errors.filter((issues) => issues.length > 0).sort((a, b) => a.length - b.length);
  const [first] = branches[0] ?? [];
  return first ? { ...innermost(first), path: [...issue.path, ...first.path] } : issue;
}

/** RFC 9457. What is no Problem is a defect: it is logged, and only its existence is told. */
function sendProblem(error: unknown, request: Request, response: Response, next: NextFunction): void {
  if (response.headersSent) return next(error);
  const problem = asProblem(error);
  if (!(error instanceof Problem) && problem.status === 500)
    log.error({ err: error, request: response.locals.requestId as string, path: request.path }, "defect");
  const { status, title, detail, pointer } = problem;
  const requestId = status >= 500 ? (response.locals.requestId as string | undefined) : undefined;
  if (status === 401) response.set("WWW-Authenticate", "Bearer");
  if (status === 503 && !response.hasHeader("Retry-After")) response.set("Retry-After", RETRY_AFTER);
  response
    .status(status)
    .type("application/problem+json")
    .json({
      type: "about:blank",
      status,
      title,
      detail,
      ...(pointer && { pointer }),
      ...(requestId && { request: requestId }),
    });
}

function asProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  const disk = diskTrouble(error);
  if (disk !== undefined) return new Problem(507, "No room", disk);
  if (error instanceof Refusal) return new Problem(400, "Bad request", error.message);
  const away = awayProblem(error);
  if (away) return away;
  if (error instanceof z.ZodError)
    return new Problem(500, "Server error", "The answer did not fit its description.");
  // Of the readers of bodies and addresses.
  const { status = 500, type } = error as { status?: number; type?: string };
  if (status === 413) return new Problem(413, "Too large", "The body is larger than 1 MB.");
  if (status === 415) return new Problem(415, "Not JSON", "Send the body as application/json, in UTF-8.");
  if (status >= 400 && status < 500)
    return new Problem(
      status,
      "Bad request",
      type === "entity.parse.failed" ? "The body is not JSON." : "The request cannot be read.",
    );
  return new Problem(
    500,
    "Server error",
    "Something went wrong here; it is logged under the number in “request”.",
  );
}
