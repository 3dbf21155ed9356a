import type { IncomingMessage } from "node:http";
import { Readable } from "node:stream";
import { formatBytes } from "#core/length/formatBytes";
import { isOwnFault } from "#server/ownFault";
import { Problem } from "#server/problem";
import { fileStore } from "#server/store/store";

/**
 * Keeps the body of a request as a file, counted while it streams; what is in it is for the worker to read.
 * @param most bytes @param what it is, as a sentence begins: “A picture”
 * @throws {Problem} 413 where it is too large, 400 where it breaks off or is empty
 */
export async function receiveBody(
  request: IncomingMessage,
  { most, what }: { most: number; what: string },
): Promise<{ sha256: string; bytes: number }> {
  const kept = await fileStore()
    .keep(Readable.from(bounded(request, most, what)))
    .catch((error: unknown) => {
      if (error instanceof Problem || isOwnFault(error)) throw error;
      throw new Problem(400, "Broken off", "What was sent broke off. Send it again.");
    });
  if (kept.bytes === 0) throw new Problem(400, "Nothing came", `${what} is sent as the body of the request.`);
  return kept;
}

async function* bounded(request: IncomingMessage, most: number, what: string): AsyncGenerator<Buffer> {
  let bytes = 0;
  for await (const chunk of request as AsyncIterable<Buffer>) {
    bytes += chunk.length;
    if (bytes > most) throw new Problem(413, "Too large", `${what} may have up to ${formatBytes(most)}.`);
    yield chunk;
  }
}
