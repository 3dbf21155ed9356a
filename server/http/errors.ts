import type { NextFunction, Request, Response } from "express";
import { awayProblem, RETRY_AFTER } from "#server/http/away";
import { noteDefect } from "#server/http/metrics";
import { log } from "#server/log";
import { Problem } from "#server/problem";

/** What a person sees of an error outside of the screens: its own sentence, or the number under which it is logged. */
export function sendError(error: unknown, request: Request, response: Response, next: NextFunction): void {
  if (response.headersSent) return next(error);
  const problem = error instanceof Problem ? error : (awayProblem(error) ?? refusedBelow(error));
  if (problem?.status === 503 && !response.hasHeader("Retry-After")) response.set("Retry-After", RETRY_AFTER);
  if (problem) return void response.status(problem.status).type("text").send(problem.detail);
  noteDefect();
  log.error({ err: error, request: response.locals.requestId as string, path: request.path }, "defect");
  response
    .status(500)
    .type("text")
    .send(`Something went wrong here. Tell the keeper this number: ${response.locals.requestId as string}`);
}

/** What the libraries that read requests refuse, with a status and in words that are theirs. */
function refusedBelow(error: unknown): Problem | undefined {
  const status = Number((error as { status?: unknown } | null)?.status);
  return status >= 400 && status < 500
    ? new Problem(status, "Bad request", "The request cannot be read.")
    : undefined;
}
