import type { IncomingMessage } from "node:http";
import { Readable } from "node:stream";
import { formatBytes } from "#core/length/formatBytes";
import { MOST_PICTURE_BYTES } from "#server/http/bodies";
import { isOwnFault } from "#server/ownFault";
import { Problem } from "#server/problem";
import { fileStore } from "#server/store/store";

/**
 * Keeps the body of a request as a file, counted while it streams; what is in it is for the worker to read.
 * @throws {Problem} 413 where it is too large, 400 where it breaks off or is empty
 */
export async function receivePicture(request: IncomingMessage): Promise<{ sha256: string; bytes: number }> {
  const kept = await fileStore()
    .keep(Readable.from(bounded(request)))
    .catch((error: unknown) => {
      if (error instanceof Problem || isOwnFault(error)) throw error;
      throw new Problem(400, "Broken off", "What was sent broke off. Send it again.");
    });
  if (kept.bytes === 0)
    throw new Problem(400, "Nothing came", "Send the picture as the body of the request.");
  return kept;
}

async function* bounded(request: IncomingMessage): AsyncGenerator<Buffer> {
  let bytes = 0;
  for await (const chunk of request as AsyncIterable<Buffer>) {
    bytes += chunk.length;
    if (bytes > MOST_PICTURE_BYTES)
      throw new Problem(413, "Too large", `A picture may have up to ${formatBytes(MOST_PICTURE_BYTES)}.`);
    yield chunk;
  }
}
