import type { Cell, Recognised } from "#core/colorList/columns";
import { notationsOf, NOTATIONS, type Columns, type Meaning, type Notation } from "#core/colorList/meaning";
import { apart, type ListedColor } from "#core/colorList/notation";
import { colorOf, numberIn, shown, textOf, threeIn, type Scales } from "#core/colorList/readRow";
import { glossOfSheen } from "#core/colorList/sheen";
import { WHITES, type White } from "#core/colorList/white";
import type { Family } from "#core/finish/family";
import { familyOfWord } from "#core/library/familyWords";
import { roughnessOfSheen } from "#core/supply/sheenRoughness";
import { plainLine } from "#core/text/plainText";
import { Refusal } from "#core/text/refusal";

/** One colour of a list. */
export interface ListedEntry {
  /** As a spreadsheet counts, from 1. */
  row: number;
  code: string;
  /** The code where it has no name. */
  name: string;
  hex: string;
  lab: [number, number, number];
  /** How far `hex` lies from what is listed, ΔE2000. */
  outsideBy: number;
  sheen: string | null;
  /** At 60°, listed or by the sheen's word. */
  gloss: number | null;
  roughness: number | null;
  family: Family | null;
  /** What stands as its family and is none of the nine: “Yellows”. */
  group: string | null;
  page: string | null;
}

export interface RowError {
  row: number;
  code: string | null;
  detail: string;
}

export interface ListReading {
  entries: ListedEntry[];
  errors: RowError[];
  /** In which notation the colours were taken. */
  notation: Notation;
  white: White | null;
  /** How the white is known: a heading or a person says so, a second notation agrees with it alone, or nothing. */
  whiteFrom: "said" | "told" | "assumed" | null;
  /** What is to be known of the list as a whole, in sentences. */
  notes: string[];
}

const LONGEST = { code: 60, name: 160, sheen: 60, group: 80, page: 1000 };
/** Two notations of one colour that lie further apart say that one of them is wrong. */
const CONTRADICTS = 3;

/**
 * Reads a list of colours row by row; what is wrong in a row is said of that row, and holds up none of the rest.
 * @throws {Refusal} where the columns name no code or no colour
 */
export function readList(
  rows: readonly (readonly Cell[])[],
  { columns, heading }: Pick<Recognised, "columns" | "heading">,
  said?: White,
): ListReading {
  const notations = notationsOf(columns);
  if (notations.length === 0)
    throw new Refusal("No column with a colour was recognised. Say which: hex, RGB, Lab or xyY.");
  if (columns.code === undefined)
    throw new Refusal(
      "No column with a code was recognised. Say which: by its code a colour is known again.",
    );
  const from = (heading ?? -1) + 1;
  const body = rows.slice(from);
  const scales = scalesOf(body, columns);
  const white = whiteOf(body, columns, notations, scales, said);
  const all: Scales = { ...scales, white: white?.white ?? "D65" };
  const reading: ListReading = {
    ...{ entries: [], errors: [], notes: [], notation: notations[0] },
    ...{ white: white?.white ?? null, whiteFrom: white?.from ?? null },
  };
  const known = new Map<string, ListedEntry>();
  const counts = { titles: 0, again: 0, contradict: 0, worst: 0, outside: 0, furthest: 0, pages: 0 };
  for (const [i, cells] of body.entries()) {
    const row = from + i + 1;
    const filled = cells.filter((cell) => cell !== null && String(cell).trim() !== "").length;
    if (filled === 0) continue;
    let code: string | null = null;
    try {
      code = plainLine(textOf(cells, columns, "code"), LONGEST.code).trim();
      const colors = notations.flatMap((notation) => colorOf(cells, columns, notation, all) ?? []);
      if (colors.length === 0 && filled === 1) {
        counts.titles++;
        continue;
      }
      if (code === "") throw new Refusal("It has no code.");
      if (colors.length === 0) throw new Refusal("It has no colour.");
      const entry = entryOf(cells, columns, row, code, colors[0]);
      if (columns.page !== undefined && entry.page === null && textOf(cells, columns, "page") !== "")
        counts.pages++;
      const before = known.get(code.toLowerCase());
      if (before && before.hex === entry.hex && before.name === entry.name) {
        counts.again++;
        continue;
      }
      if (before)
        throw new Refusal(`The code “${code}” stands in row ${before.row} already, for ${before.name}.`);
      const furthest = Math.max(0, ...colors.slice(1).map((other) => apart(colors[0], other)));
      if (furthest > CONTRADICTS) counts.contradict++;
      counts.worst = Math.max(counts.worst, furthest);
      if (entry.outsideBy > 0) counts.outside++;
      counts.furthest = Math.max(counts.furthest, entry.outsideBy);
      known.set(code.toLowerCase(), entry);
      reading.entries.push(entry);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      reading.errors.push({ row, code, detail: error.message });
    }
  }
  reading.notes.push(...notesOf(counts, notations, white));
  return reading;
}

function entryOf(
  cells: readonly Cell[],
  columns: Columns,
  row: number,
  code: string,
  color: ListedColor,
): ListedEntry {
  const text = (meaning: keyof typeof LONGEST & Meaning) =>
    plainLine(textOf(cells, columns, meaning), LONGEST[meaning]).trim();
  const sheen = text("sheen");
  const gloss = glossOf(textOf(cells, columns, "gloss"), sheen);
  const word = plainLine(textOf(cells, columns, "family"), LONGEST.group).trim();
  const family = word === "" ? undefined : familyOfWord(word);
  const page = text("page");
  return {
    ...{ row, code, name: text("name") || code, hex: color.hex, lab: color.lab, outsideBy: color.outsideBy },
    ...{ sheen: sheen || null, gloss, roughness: gloss === null ? null : roughnessOfSheen(gloss) },
    ...{ family: family ?? null, group: word !== "" && !family ? word : null },
    page: URL.canParse(page) && /^https?:/.test(page) ? page : null,
  };
}

/** @throws {Refusal} where it is neither a number nor a word for a sheen */
function glossOf(text: string, sheen: string): number | null {
  const units = numberIn(text.replace(/\s*gu$/i, ""));
  if (units !== undefined) {
    if (units < 0 || units > 100) throw new Refusal(`It has ${units} gloss units; paints have 0 to 100.`);
    return units;
  }
  const word = text || sheen;
  if (word === "") return null;
  const known = glossOfSheen(word) ?? numberIn(word.replace(/\s*gu$/i, ""));
  if (known !== undefined && known >= 0 && known <= 100) return known;
  throw new Refusal(
    `“${shown(word)}” is no sheen that is known. Write gloss units at 60°, or a word such as matt, satin or gloss.`,
  );
}

function scalesOf(body: readonly (readonly Cell[])[], columns: Columns): Omit<Scales, "white"> {
  const most = (meanings: readonly Meaning[]) => {
    let highest = 0;
    for (const row of body)
      for (const meaning of meanings) {
        const place = columns[meaning];
        const text = place === undefined ? "" : String(row[place] ?? "").trim();
        for (const number of threeIn(text) ?? [numberIn(text) ?? 0]) highest = Math.max(highest, number);
      }
    return highest;
  };
  const [rgb, luminance] = [most(["red", "green", "blue", "rgb"]), most(["luminance"])];
  return { rgb: rgb > 0 && rgb <= 1 ? 1 : 255, luminance: luminance > 0 && luminance <= 1 ? 1 : 100 };
}

const COMPARED = 400;

/** The white of the values: as it is said; else that with which the list agrees with its own codes for screens; else D65. */
function whiteOf(
  body: readonly (readonly Cell[])[],
  columns: Columns,
  notations: readonly Notation[],
  scales: Omit<Scales, "white">,
  said: White | undefined,
): { white: White; from: NonNullable<ListReading["whiteFrom"]> } | undefined {
  const measured = notations.find((notation) => isMeasured(notation));
  if (!measured) return undefined;
  if (said) return { white: said, from: "said" };
  const screen = notations.find((notation) => !isMeasured(notation));
  if (screen) {
    const away = WHITES.map((white) => {
      const distances = body.slice(0, COMPARED).flatMap((row) => {
        try {
          const [one, other] = [measured, screen].map((notation) =>
            colorOf(row, columns, notation, { ...scales, white }),
          );
          return one && other && one.outsideBy === 0 ? apart(one, other) : [];
        } catch (error) {
          if (error instanceof Refusal) return [];
          throw error;
        }
      });
      return { white, median: distances.sort((a, b) => a - b)[distances.length >> 1] ?? Infinity };
    }).sort((a, b) => a.median - b.median);
    const [better, worse] = away;
    if (better.median < 1 && worse.median > 2 * Math.max(better.median, 0.1))
      return { white: better.white, from: "told" };
  }
  return { white: "D65", from: "assumed" };
}

const isMeasured = (notation: Notation) =>
  (NOTATIONS[notation] as readonly Meaning[]).some((meaning) =>
    ["lab", "lightness", "chromaX"].includes(meaning),
  );

function notesOf(
  counts: {
    titles: number;
    again: number;
    contradict: number;
    worst: number;
    outside: number;
    furthest: number;
    pages: number;
  },
  notations: readonly Notation[],
  white: ReturnType<typeof whiteOf>,
): string[] {
  const rows = (count: number, one: string, several: string) =>
    count === 1 ? `1 row ${one}` : `${count} rows ${several}`;
  return [
    white?.from === "assumed" &&
      "Nothing says under which white the colours were measured: D65 is assumed. Choose D50 if the maker says so.",
    white?.from === "told" &&
      `Under ${white.white} the measured colours agree with the list’s own codes for screens, and under the other white they do not.`,
    counts.contradict > 0 &&
      `${rows(counts.contradict, "contradicts itself", "contradict themselves")}: as ${notations[0]} and as ${notations.slice(1).join(" and ")} they lie up to ΔE ${counts.worst.toFixed(1)} apart. ${notations[0]} was taken.`,
    counts.outside > 0 &&
      `${rows(counts.outside, "has a colour", "have colours")} that no screen shows (outside sRGB), by up to ΔE ${counts.furthest.toFixed(1)}: the nearest was taken.`,
    counts.again > 0 && `${rows(counts.again, "stands", "stand")} twice, word for word: once is enough.`,
    counts.titles > 0 && `${rows(counts.titles, "has nothing but a title", "have nothing but a title")}.`,
    counts.pages > 0 &&
      `${rows(counts.pages, "names a page", "name a page")} without an address (https://…), which is not kept.`,
  ].filter((note) => note !== false);
}
