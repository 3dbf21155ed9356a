import { open } from "node:fs/promises";

/** The bytes of a file, piece by piece. */
export async function* chunksOf(path: string): AsyncGenerator<Uint8Array> {
  const file = await open(path, "r");
  try {
    for (;;) {
      const { bytesRead, buffer } = await file.read(Buffer.alloc(CHUNK), 0, CHUNK);
      if (bytesRead === 0) return;
      yield buffer.subarray(0, bytesRead);
    }
  } finally {
    await file.close();
  }
}
const CHUNK = 256 * 1024;

/**
 * The lines of a text, one by one. Of one that is longer than `longest` UTF-16 units a first part comes that is at least as long, and the
 * rest is passed over.
 */
export async function* linesOf(
  path: string,
  { encoding, longest }: { encoding: string; longest: number },
): AsyncGenerator<string> {
  const decoder = new TextDecoder(encoding);
  let rest = "";
  let isPassing = false;
  for await (const chunk of chunksOf(path)) {
    const parts = (rest + decoder.decode(chunk, { stream: true })).split(/\r\n|\n|\r/);
    rest = parts.pop()!;
    for (const line of parts) {
      if (!isPassing) yield line;
      isPassing = false;
    }
    if (rest.length >= longest) {
      if (!isPassing) yield rest;
      isPassing = true;
      rest = "";
    }
  }
  rest += decoder.decode();
  if (rest && !isPassing) yield rest;
}
