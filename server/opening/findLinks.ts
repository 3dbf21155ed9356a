import { createWriteStream } from "node:fs";
import { readFile, stat } from "node:fs/promises";
import { pipeline } from "node:stream/promises";
import { formatBytes } from "#core/length/formatBytes";
import { linksInDocument, type DocumentSource } from "#core/links/linksInDocument";
import { linksInLine, type LineSource } from "#core/links/linksInLine";
import { plainLine } from "#core/text/plainText";
import { Refusal } from "#core/text/refusal";
import { encodingOf } from "#server/opening/encodingOf";
import { linesOf } from "#server/opening/linesOf";

export interface FindLinksTask {
  path: string;
  /** As it was handed in: what it is is told by its extension. */
  name: string;
  /** Where the paths go, each once, a line each. */
  to: string;
  /** Paths that are kept; what comes after is counted. */
  most?: number;
}

export interface FoundLinks {
  found: number;
  /** Paths that are longer than any file's, and what came after the most that are read. */
  leftOut: number;
}

const MOST_IN_LIST = 1_000_000;
const LONGEST_PATH = 1000;
/** A line that is longer names no file: it is passed over as it comes. */
const LONGEST_LINE = 64 * 1024;
/** What is written at a time. */
const CHUNK = 256 * 1024;
const MOST_DOCUMENT_BYTES = 64 * 2 ** 20;

const DOCUMENTS = new Map<string, DocumentSource>([
  ["mtlx", "materialx"],
  ["usda", "usd"],
  ["usd", "usd"],
  ["gltf", "gltf"],
]);
/** What has its files within it, or hides their names. */
const CLOSED = ["glb", "usdz", "usdc"];

/** Writes down the paths that a list or a scene names. @throws {Refusal} */
export async function findLinks({ path, name, to, most = MOST_IN_LIST }: FindLinksTask): Promise<FoundLinks> {
  const extension = name.toLowerCase().replace(/^.*\./, "");
  if (CLOSED.includes(extension))
    throw new Refusal(
      `Of a .${extension} no links are read: it holds its files itself, or is not text. Hand in the .gltf, .usda, .mtlx or .mtl, or a list of paths.`,
    );
  const paths = new Set<string>();
  let leftOut = 0;
  const take = (found: string[]) => {
    for (const one of found) {
      const plain = plainLine(one, LONGEST_PATH + 1).trim();
      if (plain.length > LONGEST_PATH || (paths.size >= most && !paths.has(plain))) leftOut++;
      else if (plain) paths.add(plain);
    }
  };
  const encoding = await encodingOf(path, "Hand in a list of paths, or a scene that is text.");
  const document = DOCUMENTS.get(extension);
  if (document) take(linksInDocument(document, await wholeText(path, encoding)));
  else {
    const source: LineSource = extension === "mtl" ? "mtl" : "list";
    for await (const line of linesOf(path, { encoding, longest: LONGEST_LINE }))
      if (line.length >= LONGEST_LINE) leftOut++;
      else take(linksInLine(source, line));
  }
  if (paths.size === 0)
    throw new Refusal("It names no files. A list has one path a line, or cells with paths in a table.");
  await pipeline(chunksOfLines(paths), createWriteStream(to));
  return { found: paths.size, leftOut };
}

async function wholeText(path: string, encoding: string): Promise<string> {
  const { size } = await stat(path);
  if (size > MOST_DOCUMENT_BYTES)
    throw new Refusal(
      `The document has ${formatBytes(size)}; up to ${formatBytes(MOST_DOCUMENT_BYTES)} are read. Hand in a list of its paths.`,
    );
  return new TextDecoder(encoding).decode(await readFile(path));
}

function* chunksOfLines(lines: Iterable<string>): Generator<string> {
  let some = "";
  for (const line of lines) {
    some += `${line}\n`;
    if (some.length < CHUNK) continue;
    yield some;
    some = "";
  }
  yield some;
}
