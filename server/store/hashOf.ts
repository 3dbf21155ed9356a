import { createHash } from "node:crypto";
import { createReadStream } from "node:fs";
import { pipeline } from "node:stream/promises";

/** SHA-256 of a file, read as a stream; undefined where there is no such file. */
export async function hashOf(path: string): Promise<string | undefined> {
  const hash = createHash("sha256");
  try {
    await pipeline(createReadStream(path), hash);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === "ENOENT") return undefined;
    throw error;
  }
  return hash.digest("hex");
}
