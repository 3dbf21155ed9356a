import iconv from "iconv-lite";
import { crc32 } from "node:zlib";

/** Field of a zip entry that holds its name in UTF-8, beside the one that the packing system wrote (APPNOTE 4.6.9). */
const UNICODE_PATH = 0x7075;
/** Bit 11 of an entry's flags: its name is UTF-8 (APPNOTE 4.4.4). */
const IS_UTF8 = 0x800;

interface Entry {
  fileName: Buffer;
  generalPurposeBitFlag: number;
  extraFields: { id: number; data: Buffer }[];
}

/**
 * The name of a zip entry. Without a mark of UTF-8 it is in the code page of the system that packed it, which nothing tells: UTF-8
 * where it is valid, else Shift-JIS, Windows-1252 or CP437, by which of them its bytes make letters.
 */
export function entryName({ fileName, generalPurposeBitFlag, extraFields }: Entry): string {
  const unicode = extraFields.find(({ id }) => id === UNICODE_PATH);
  // It holds good for the name that it was written beside, and not for one that was changed since.
  if (unicode && unicode.data.length > 5 && unicode.data.readUInt32LE(1) === crc32(fileName))
    return unicode.data.subarray(5).toString("utf8");
  if ((generalPurposeBitFlag & IS_UTF8) !== 0) return fileName.toString("utf8");
  const utf8 = decoded(fileName, "utf-8");
  if (utf8 !== undefined) return utf8;
  const japanese = decoded(fileName, "shift_jis");
  if (japanese !== undefined && JAPANESE.test(japanese)) return japanese;
  return iconv.decode(
    fileName,
    letters(fileName, "cp437") >= letters(fileName, "win1252") ? "cp437" : "win1252",
  );
}

/** Two signs in a row: one alone is as likely to be an accented letter and the one behind it. */
const JAPANESE = /[\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Han}]{2}/u;

function decoded(bytes: Buffer, encoding: string): string | undefined {
  try {
    return new TextDecoder(encoding, { fatal: true }).decode(bytes);
  } catch {
    return undefined;
  }
}

/** How many of the bytes beyond ASCII are Latin letters in a code page. */
function letters(bytes: Buffer, encoding: string): number {
  return [...iconv.decode(bytes, encoding)].filter(
    (letter) => letter > "\u007f" && /\p{Script=Latin}/u.test(letter),
  ).length;
}
