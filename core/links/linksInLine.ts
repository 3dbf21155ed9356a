/** What a line may be of: a plain list or a table of any kind, or a library of materials of OBJ models. */
export type LineSource = "list" | "mtl";

/** Statements of a material library that name a file behind options. */
const MTL_FILES = /^(?:map_\w+|bump|norm|disp|decal|refl)$/i;

/** An option with the words that belong to it: numbers, or one word that is none. */
const MTL_OPTION = /^-\w+(?:(?:\s+[-+]?[\d.]+(?:e[-+]?\d+)?(?=\s))+|\s+[a-z]+(?=\s))?\s+/i;

/** A file that a link may lead to: its name has an extension. */
const IS_FILE = /[^\\/\s]\.[a-z0-9]{2,5}$/i;

/** It begins where a machine begins: a drive, a share, a mount, an address of a file. */
const IS_ROOTED = /^(?:[a-z]:[\\/]|\\\\|\/|file:)/i;

/**
 * The paths that a line names: its own text, or the cells of a table that look like files.
 * @param line without its end
 */
export function linksInLine(source: LineSource, line: string): string[] {
  const text = line.trim();
  if (text === "") return [];
  if (source === "mtl") {
    const [word] = text.split(/\s/, 1);
    if (!MTL_FILES.test(word)) return [];
    return [withoutOptions(text.slice(word.length).trimStart())].filter(Boolean);
  }
  const cells = cellsOf(text);
  if (cells.length === 1) return cells;
  const files = cells.filter((cell) => IS_FILE.test(cell) && !/^https?:/i.test(cell));
  // A path with a comma in it, which nobody put in quotation marks: of several files each would be rooted.
  if (IS_ROOTED.test(text) && files.length === 1 && files[0] === cells.at(-1) && !IS_ROOTED.test(files[0]))
    return [text];
  return files;
}

function withoutOptions(text: string): string {
  let rest = text;
  for (let found = MTL_OPTION.exec(rest); found; found = MTL_OPTION.exec(rest))
    rest = rest.slice(found[0].length);
  return rest.trim();
}

/** Cells of a row, by whichever of tab, semicolon or comma it has; within quotation marks these are nothing special. */
function cellsOf(text: string): string[] {
  const bare = text.replaceAll(/"(?:[^"]|"")*"/g, "");
  const delimiter = ["\t", ";", ","].find((one) => bare.includes(one));
  const cells = delimiter === undefined ? [text] : split(text, delimiter);
  return cells
    .map((cell) =>
      cell
        .trim()
        .replace(/^"([\s\S]*)"$/, "$1")
        .replaceAll('""', '"')
        .trim(),
    )
    .filter(Boolean);
}

function split(text: string, delimiter: string): string[] {
  const cells: string[] = [];
  let from = 0;
  let isQuoted = false;
  for (let at = 0; at < text.length; at++)
    if (text[at] === '"') isQuoted = !isQuoted;
    else if (text[at] === delimiter && !isQuoted) {
      cells.push(text.slice(from, at));
      from = at + 1;
    }
  cells.push(text.slice(from));
  return cells;
}
