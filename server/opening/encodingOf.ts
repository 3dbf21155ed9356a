import { Refusal } from "#core/text/refusal";
import { chunksOf } from "#server/opening/linesOf";

/**
 * UTF-16 where it says so, UTF-8 where all of it is, else the letters of Windows.
 * @param otherwise what to do about it where it is no text
 * @throws {Refusal} where it is no text
 */
export async function encodingOf(path: string, otherwise: string): Promise<string> {
  let isUtf8 = true;
  const strict = new TextDecoder("utf-8", { fatal: true });
  let isFirst = true;
  for await (const chunk of chunksOf(path)) {
    if (isFirst && chunk[0] === 0xff && chunk[1] === 0xfe) return "utf-16le";
    if (isFirst && chunk[0] === 0xfe && chunk[1] === 0xff) return "utf-16be";
    isFirst = false;
    if (chunk.includes(0)) throw new Refusal(`It is no text. ${otherwise}`);
    if (isUtf8)
      try {
        strict.decode(chunk, { stream: true });
      } catch {
        isUtf8 = false;
      }
  }
  return isUtf8 ? "utf-8" : "windows-1252";
}
