import type { Cell } from "#core/colorList/columns";
import { NOTATIONS, type Columns, type Meaning, type Notation } from "#core/colorList/meaning";
import { fromHex, fromLab, fromRgb, fromXyY, type ListedColor } from "#core/colorList/notation";
import type { White } from "#core/colorList/white";
import { Refusal } from "#core/text/refusal";

/** In which numbers a whole list is written: of one row nobody could tell. */
export interface Scales {
  white: White;
  /** What full red has. */
  rgb: 255 | 1;
  /** What white has as Y. */
  luminance: 100 | 1;
}

const ERRORS_OF_SHEETS = /^#(REF|N\/A|VALUE|NAME|DIV\/0|NUM|NULL)[!?]?/i;

/** What stands in a cell, as text. @throws {Refusal} where a formula stands there in place of its value */
export function textOf(row: readonly Cell[], columns: Columns, meaning: Meaning): string {
  const place = columns[meaning];
  const cell = place === undefined ? null : (row[place] ?? null);
  if (cell === null) return "";
  const text = String(cell).trim();
  if (/^=./.test(text))
    throw new Refusal(`“${shown(text)}” is a formula. Save the table with its values in place of formulas.`);
  if (ERRORS_OF_SHEETS.test(text)) throw new Refusal(`“${shown(text)}” is an error of the spreadsheet.`);
  return text;
}

export const shown = (text: string) => (text.length > 40 ? `${text.slice(0, 40)}…` : text);

/** A number as people and spreadsheets write it: comma or point, and another minus sign. */
export function numberIn(text: string): number | undefined {
  const plain = text
    .replaceAll("\u2212", "-")
    .replace(/^(-?\d+),(\d+)$/, "$1.$2")
    .replace(/\s*%$/, "");
  return /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(plain) ? Number(plain) : undefined;
}

/** Three numbers in one cell. A comma stands between them unless it stands in them. */
export function threeIn(text: string): [number, number, number] | undefined {
  const inside = text.replace(/^[a-z*]+\s*\(|\)$/gi, "").trim();
  for (const between of [/\s*[;/|]\s*|\s+/, /\s*,\s*/]) {
    const numbers = inside.split(between).map(numberIn);
    if (numbers.length === 3 && numbers.every((one) => one !== undefined))
      return numbers as [number, number, number];
  }
  return undefined;
}

/** Three numbers of a row. @throws {Refusal} naming what is none */
function threeOf(
  row: readonly Cell[],
  columns: Columns,
  notation: Notation,
): [number, number, number] | undefined {
  const meanings: readonly Meaning[] = NOTATIONS[notation];
  const texts = meanings.map((meaning) => textOf(row, columns, meaning));
  if (texts.every((text) => text === "")) return undefined;
  if (texts.length === 1) {
    const three = threeIn(texts[0]);
    if (!three) throw new Refusal(`“${shown(texts[0])}” is not three numbers.`);
    return three;
  }
  const numbers = texts.map((text, i) => {
    const number = numberIn(text);
    if (number !== undefined) return number;
    const column = ["first", "second", "third"][i];
    throw new Refusal(
      text === ""
        ? `The ${column} number of its ${notation} is missing.`
        : `“${shown(text)}” is no number of its ${notation}.`,
    );
  });
  return numbers as [number, number, number];
}

const within = (notation: Notation, numbers: readonly number[], limits: readonly [number, number][]) => {
  for (const [i, number] of numbers.entries())
    if (!(number >= limits[i][0] && number <= limits[i][1]))
      throw new Refusal(
        `Its ${notation} has ${number}, which is not within ${limits[i][0]} and ${limits[i][1]}.`,
      );
};

/** The colour of a row in one way of writing; undefined where nothing stands there. @throws {Refusal} where it is no colour */
export function colorOf(
  row: readonly Cell[],
  columns: Columns,
  notation: Notation,
  { white, rgb, luminance }: Scales,
): ListedColor | undefined {
  if (notation === "hex") {
    const text = textOf(row, columns, "hex");
    if (text === "") return undefined;
    const color = fromHex(text);
    if (color) return color;
    throw new Refusal(
      /^\d{1,5}$/.test(text) && text.length !== 3
        ? `“${text}” is not a colour: it has ${text.length} of 6 digits. A spreadsheet drops zeros at the front of what it takes for a number.`
        : `“${shown(text)}” is not a colour. It is written #rrggbb.`,
    );
  }
  const numbers = threeOf(row, columns, notation);
  if (!numbers) return undefined;
  const [one, two, three] = numbers;
  if (notation === "RGB" || notation === "RGB in one cell") {
    const full: [number, number] = [0, rgb];
    within("RGB", numbers, [full, full, full]);
    return fromRgb(one / rgb, two / rgb, three / rgb);
  }
  if (notation === "xyY") {
    within("xyY", numbers, [
      [0, 1],
      [0, 1],
      [0, luminance],
    ]);
    if (two === 0 && three > 0) throw new Refusal("Its xyY has a y of 0, and light.");
    if (one + two > 1) throw new Refusal(`Its xyY has x ${one} and y ${two}: together they are at most 1.`);
    return fromXyY(one, two, three * (100 / luminance), white);
  }
  within("Lab", numbers, [
    [0, 100],
    [-160, 160],
    [-160, 160],
  ]);
  return fromLab(one, two, three, white);
}
