import type { NextFunction, Request, Response } from "express";
import { Problem } from "#server/problem";
import { settings } from "#server/settings";

/** What the body of a request may be. */
export interface BodyRule {
  mostBytes: number;
  /** The whole of it has to come within this, unless it is an upload. */
  seconds: number;
  /** An upload is cut off after so long without a byte. */
  silentSeconds: number;
  isUpload: boolean;
}

const KIB = 1024;
const FORM: BodyRule = { mostBytes: 1024 * KIB, seconds: 30, silentSeconds: 30, isUpload: false };
const SIGN_IN: BodyRule = { ...FORM, mostBytes: 64 * KIB };
const UPLOAD = (mostBytes: number): BodyRule => ({
  mostBytes,
  seconds: Infinity,
  silentSeconds: 60,
  isUpload: true,
});

/** Of a picture that a finish is judged against. */
export const MOST_PICTURE_BYTES = 64 * KIB * KIB;

/** Of a list of paths: a million of them. */
export const MOST_LIST_BYTES = 192 * KIB * KIB;

/** Of a list of colours, as a form with what is said of it. */
export const MOST_COLOR_LIST_BYTES = 16 * KIB * KIB;
const MOST_COLOR_LIST_FORM_BYTES = MOST_COLOR_LIST_BYTES + KIB * KIB;

/** How many bodies may be on their way at a time, all together and from one address. */
const MOST_IN_FLIGHT = { forms: 256, formsOfOne: 64, uploads: 128, uploadsOfOne: 32 };

/** The rule for a request, by its address alone: it holds before anybody knows who asks. */
export function bodyRule(method: string, path: string): BodyRule {
  const plain = decoded(path).toLowerCase().replace(/\/+$/, "").replace(/^\/+/, "/");
  if (plain === "/sign-in" || plain === "/sign-in.data") return SIGN_IN;
  if (plain.startsWith("/api/v1/uploads")) return UPLOAD(settings().maxUploadBytes);
  if (method === "POST" && plain === "/api/v1/intakes") return UPLOAD(settings().maxDayBytes);
  if (
    method === "POST" &&
    /^\/api\/v1\/(materials\/[^/]+\/references|cards\/[^/]+\/picture|sought-pictures)$/.test(plain)
  )
    return UPLOAD(MOST_PICTURE_BYTES);
  if (method === "POST" && plain === "/api/v1/links/lists") return UPLOAD(MOST_LIST_BYTES);
  if (method === "POST" && plain === "/api/v1/lines/import") return UPLOAD(MOST_COLOR_LIST_FORM_BYTES);
  return FORM;
}

/** As the router reads it: what is written with escapes means the same screen. */
function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
  } catch {
    return path;
  }
}

interface InFlight {
  request: Request;
  response: Response;
  rule: BodyRule;
  address: string;
  begun: number;
  /** Bytes that the socket had read before, and has read now. */
  before: number;
  read: number;
  readAt: number;
}

const inFlight = new Set<InFlight>();
let watch: NodeJS.Timeout | undefined;
const WATCHED_EVERY_MS = 1000;

/**
 * Refuses bodies that are announced as too large, and more of them than there is room for, before anything is read or anybody
 * is asked who they are; cuts off those that come too slowly or go on for longer than they may.
 */
export function boundedBodies(request: Request, response: Response, next: NextFunction): void {
  const { headers, socket } = request;
  if (headers["content-length"] === undefined && headers["transfer-encoding"] === undefined) return next();
  const rule = bodyRule(request.method, request.path);
  if (Number(headers["content-length"] ?? 0) > rule.mostBytes) return refuse(response, next, tooLarge(rule));
  const address = request.ip ?? "unknown";
  prune();
  const alike = [...inFlight].filter((one) => one.rule.isUpload === rule.isUpload);
  const [most, ofOne] = rule.isUpload
    ? [MOST_IN_FLIGHT.uploads, MOST_IN_FLIGHT.uploadsOfOne]
    : [MOST_IN_FLIGHT.forms, MOST_IN_FLIGHT.formsOfOne];
  if (alike.length >= most || alike.filter((one) => one.address === address).length >= ofOne) {
    response.set("Retry-After", "5");
    return refuse(
      response,
      next,
      new Problem(503, "Busy", "Too much is being sent just now. Try again soon."),
    );
  }
  const now = Date.now();
  const one: InFlight = {
    ...{ request, response, rule, address, begun: now, readAt: now },
    ...{ before: socket.bytesRead, read: socket.bytesRead },
  };
  inFlight.add(one);
  response.on("close", () => {
    inFlight.delete(one);
    // An answer that did not wait for the body: what still comes of it is not listened to for long.
    if (!request.complete) setTimeout(() => request.complete || socket.destroy(), 1000).unref();
  });
  watch ??= setInterval(lookAfter, WATCHED_EVERY_MS).unref();
  next();
}

const tooLarge = ({ mostBytes }: BodyRule) =>
  new Problem(413, "Too large", `What is sent here may have up to ${Math.round(mostBytes / KIB)} KiB.`);

/** The connection ends with the answer, since the rest of the body is not read. */
function refuse(response: Response, next: NextFunction, problem: Problem): void {
  const { req: request } = response;
  response.set("Connection", "close");
  response.on("finish", () => setTimeout(() => request.socket.destroy(), 500).unref());
  next(problem);
}

function prune(): void {
  for (const one of inFlight) if (one.request.complete) inFlight.delete(one);
}

function lookAfter(): void {
  prune();
  const now = Date.now();
  for (const one of inFlight) {
    const { request, rule } = one;
    const { bytesRead } = request.socket;
    if (bytesRead !== one.read) [one.read, one.readAt] = [bytesRead, now];
    const late = now - one.begun > rule.seconds * 1000 || now - one.readAt > rule.silentSeconds * 1000;
    // Headers come with it; a little more is no matter for what nobody reads.
    if (late || bytesRead - one.before > rule.mostBytes + 64 * KIB) cut(one, late ? 408 : 413);
  }
}

function cut(one: InFlight, status: 408 | 413): void {
  inFlight.delete(one);
  const { request, response } = one;
  const { socket } = request;
  if (!response.headersSent && status === 408)
    socket.write("HTTP/1.1 408 Request Timeout\r\nConnection: close\r\nContent-Length: 0\r\n\r\n");
  setTimeout(() => socket.destroy(), 200).unref();
}

/**
 * The whole body of a form, counted while it comes. The listeners are there before anything is awaited.
 * @throws {Problem} 413 once it is larger than it may be, 400 where it breaks off
 */
export function readBody(request: Request): Promise<Buffer> {
  const rule = bodyRule(request.method, request.path);
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = [];
    let bytes = 0;
    request.on("data", (chunk: Buffer) => {
      bytes += chunk.length;
      if (bytes <= rule.mostBytes) return void chunks.push(chunk);
      chunks.length = 0;
      // The rest is left where it is: the sender waits, is answered, and is cut off.
      request.pause();
      request.res?.set("Connection", "close");
      reject(tooLarge(rule));
    });
    request.on("end", () => resolve(Buffer.concat(chunks)));
    const broken = () => reject(new Problem(400, "Broken off", "What was sent broke off. Send it again."));
    request.on("error", broken);
    request.on("close", broken);
  });
}

/** Bodies on their way, for who looks after the process. */
export const bodiesInFlight = (): number => {
  prune();
  return inFlight.size;
};
