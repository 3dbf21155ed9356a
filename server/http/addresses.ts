import type { NextFunction, Request, Response } from "express";
import { plainLine } from "#core/text/plainText";
import { Problem } from "#server/problem";

const METHODS = new Set(["GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"]);
/** Longest address that is read. */
const LONGEST = 16_384;
const CONTROL = /%(0[0-9a-f]|1[0-9a-f]|7f)|[\p{Cc}]/iu;

/**
 * Refuses what is no request of ours: other methods, and addresses that cannot be decoded or hold control characters. In the
 * query, which holds what people typed, those are taken out.
 */
export function plainAddresses(request: Request, response: Response, next: NextFunction): void {
  if (!METHODS.has(request.method)) {
    response.set("Allow", [...METHODS].join(", "));
    return next(new Problem(405, "Not allowed", `Nothing here answers ${plainLine(request.method, 20)}.`));
  }
  const [path, ...rest] = request.url.split("?");
  const query = rest.join("?");
  if (request.url.length > LONGEST || !isDecodable(path) || CONTROL.test(path) || !path.startsWith("/"))
    return next(new Problem(400, "Bad address", "The address cannot be read."));
  if (query !== "" && (CONTROL.test(query) || !isDecodable(query))) {
    const plain = new URLSearchParams(
      [...new URLSearchParams(query)].map(([name, value]) => [plainLine(name), plainLine(value, LONGEST)]),
    );
    request.url = `${path}?${plain}`;
    request.originalUrl = request.url;
  }
  next();
}

function isDecodable(text: string): boolean {
  try {
    decodeURIComponent(text.replaceAll("+", " "));
    return true;
  } catch {
    return false;
  }
}
