import { promisify } from "node:util";
import { gzip } from "node:zlib";
import type { NextFunction, Request, Response } from "express";
import { createRequestHandler, RouterContextProvider, type ServerBuild } from "react-router";
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
    // Put together and not resolved: an address that begins with two slashes would name another host.
    const url = `${request.protocol}://${request.host}${request.originalUrl}`;
    if (!URL.canParse(url)) throw new Problem(400, "Bad address", "The address cannot be read.");
    const asked = new globalThis.Request(url, {
      method: request.method,
      headers: headersOf(request),
      signal: ended.signal,
      ...(whole && { body: new Uint8Array(whole) }),
    });
    await send(request, response, await handle(asked, context));
  }
}

function headersOf(request: Request): Headers {
  const headers = new Headers();
  for (const [name, value] of Object.entries(request.headers))
    for (const one of Array.isArray(value) ? value : [value])
      if (one !== undefined) headers.append(name, one);
  return headers;
}

/** Below this, packing costs more than it saves. */
const LEAST_PACKED_BYTES = 16 * 1024;
const pack = promisify(gzip);

/** The whole answer at once: nothing on a screen is waited for while the rest is sent. */
async function send(request: Request, response: Response, answer: globalThis.Response): Promise<void> {
  response.status(answer.status);
  for (const [name, value] of answer.headers) response.append(name, value);
  // Pages hold what only this person may see.
  if (!answer.headers.has("Cache-Control")) response.set("Cache-Control", "private, no-store");
  let body = Buffer.from(await answer.arrayBuffer());
  if (response.destroyed) return;
  if (body.length >= LEAST_PACKED_BYTES && request.acceptsEncodings("gzip")) {
    // Quickly: the last percents of size cost several times the time.
    body = await pack(body, { level: 1 });
    response.set("Content-Encoding", "gzip");
  }
  response.vary("Accept-Encoding");
  response.set("Content-Length", String(body.length));
  response.end(request.method === "HEAD" ? undefined : body);
}
