import type { NextFunction, Request, Response } from "express";
import { createRequestHandler, RouterContextProvider, type ServerBuild } from "react-router";
import { writeReadableStreamToWritable } from "@react-router/node";
import { addressContext, nonceContext, personContext, requestContext } from "#server/auth/personContext";
import { personOfSession } from "#server/auth/sessions";
import { readBody } from "#server/http/bodies";
import { Problem } from "#server/problem";

const FORMS = /^(application\/x-www-form-urlencoded|multipart\/form-data)\b/i;

/** The screens: a form's body is read within its bounds first, and then handed to its action whole. */
export function screens(build: ServerBuild) {
  const handle = createRequestHandler(build, process.env.NODE_ENV);
  return (request: Request, response: Response, next: NextFunction): void => {
    answer(request, response).catch(next);
  };

  async function answer(request: Request, response: Response): Promise<void> {
    const isForm = request.method === "POST";
    if (!isForm && request.method !== "GET" && request.method !== "HEAD") {
      response.set("Allow", "GET, HEAD, POST");
      throw new Problem(405, "Not allowed", `Screens do not answer ${request.method}.`);
    }
    if (isForm && !FORMS.test(request.headers["content-type"] ?? ""))
      throw new Problem(415, "Not a form", "A screen takes forms: application/x-www-form-urlencoded.");
    // Begun in this very tick, so that nothing of it is missed.
    const body = isForm ? readBody(request) : undefined;
    body?.catch(() => undefined);
    const ended = new AbortController();
    response.on("close", () => response.writableFinished || ended.abort());
    const context = new RouterContextProvider();
    context.set(addressContext, request.ip ?? "unknown");
    context.set(nonceContext, response.locals.nonce as string);
    context.set(requestContext, response.locals.requestId as string);
    const whole = await body;
    context.set(personContext, (await personOfSession(request.headers.cookie)) ?? null);
    const asked = new globalThis.Request(
      new URL(request.originalUrl, `${request.protocol}://${request.host}`),
      {
        method: request.method,
        headers: headersOf(request),
        signal: ended.signal,
        ...(whole && { body: new Uint8Array(whole) }),
      },
    );
    await send(response, await handle(asked, context));
  }
}

function headersOf(request: Request): Headers {
  const headers = new Headers();
  for (const [name, value] of Object.entries(request.headers))
    for (const one of Array.isArray(value) ? value : [value])
      if (one !== undefined) headers.append(name, one);
  return headers;
}

async function send(response: Response, answer: globalThis.Response): Promise<void> {
  if (response.destroyed) return void (await answer.body?.cancel());
  response.status(answer.status);
  for (const [name, value] of answer.headers) response.append(name, value);
  // Pages hold what only this person may see.
  if (!answer.headers.has("Cache-Control")) response.set("Cache-Control", "private, no-store");
  if (!answer.body) return void response.end();
  try {
    await writeReadableStreamToWritable(answer.body, response);
  } catch (error) {
    if (!response.destroyed) throw error;
  }
}
