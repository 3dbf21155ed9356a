import { fromHex } from "#core/colorList/notation";
import { MEANINGS, type Columns, type Meaning } from "#core/colorList/meaning";
import { WHITES, type White } from "#core/colorList/white";

/** A cell as a table gives it: text, or what a spreadsheet kept as a number. */
export type Cell = string | number | null;

/** What columns are headed with, in small letters and without accents: English, German, French, Italian and Spanish. */
const HEADINGS: Record<Exclude<Meaning, "chromaX" | "chromaY" | "luminance">, string> = {
  code: "code|colour code|color code|number|no|nr|nummer|farbnummer|farbcode|farbton nr|ref|reference|id|article|artikel|artikelnummer|art nr|sku|numero|codice|codigo|farbton-nr",
  name: "name|colour|color|colour name|color name|farbe|farbname|farbton|bezeichnung|nom|couleur|nome|colore|nombre|title|description",
  hex: "hex|hex code|hexcode|html|web|hexadecimal|srgb hex|hex value",
  rgb: "rgb|srgb|rgb value",
  red: "r|red|rot|rouge|rosso|rojo",
  green: "g|green|grun|gruen|vert|verde",
  blue: "blue|blau|bleu|blu|azul",
  lab: "lab|cielab|cie lab|l*a*b*",
  lightness: "l|l*|cie l|cie l*|lightness|helligkeit",
  a: "a|a*|cie a|cie a*",
  b: "b|b*|cie b|cie b*",
  gloss: "gloss|gloss units|gloss 60|gu|gu 60|glanz|glanzgrad|brillance|brillantezza|brillo",
  sheen:
    "sheen|finish|surface|glanzstufe|oberflache|aspect|aspetto|acabado|sheen level|gloss level|finitura|finition",
  family:
    "family|group|colour family|color family|gruppe|farbgruppe|famille|famiglia|familia|category|material",
  page: "page|url|link|web page|webpage|product page|seite|address|website",
};

const BY_HEADING = new Map<string, Meaning>(
  Object.entries(HEADINGS).flatMap(([meaning, words]) =>
    words.split("|").map((word): [string, Meaning] => [word, meaning as Meaning]),
  ),
);

const folded = (cell: Cell) =>
  String(cell ?? "")
    .normalize("NFD")
    .replaceAll(/\p{M}/gu, "")
    .toLowerCase()
    .replaceAll(/[._:]+/g, " ")
    .replaceAll(/\s*\(.*?\)|\s*\[.*?\]/g, "")
    // The white is read apart; the observer and the angle are the usual ones.
    .replaceAll(/\bd ?(50|65)\b|(^|[\s/,])(2|10|60) ?°/g, "")
    .replaceAll(/\s+/g, " ")
    .trim();

/** What a heading says; `x`, `y` and `Y` differ in nothing but the size of a letter. */
function meaningOf(cell: Cell): Meaning | undefined {
  const word = folded(cell);
  if (/^(cie )?x$/.test(word)) return "chromaX";
  if (/^(cie )?y$/.test(word)) return /Y/.test(String(cell)) ? "luminance" : "chromaY";
  if (word === "luminance" || word === "lrv") return "luminance";
  return BY_HEADING.get(word);
}

export interface Recognised {
  /** The row of the headings, from 0; undefined where the first row is a colour already. */
  heading?: number;
  columns: Columns;
  /** Of which white the values are, where a heading says so. */
  white?: White;
}

/** Headings stand within so many rows: titles and notes may stand above. */
const LOOKED_AT = 20;

/** Tells which column says what: by its heading, and where none helps by what stands in it. */
export function recogniseColumns(rows: readonly (readonly Cell[])[]): Recognised {
  const found = rows.slice(0, LOOKED_AT).map((row) => row.map(meaningOf));
  const counts = found.map((meanings) => new Set(meanings.filter(Boolean)).size);
  const most = Math.max(0, ...counts);
  // One word may be a title; two are headings.
  const heading = most >= 2 ? counts.indexOf(most) : undefined;
  const columns: Columns = {};
  if (heading !== undefined) {
    const meanings = found[heading];
    for (const [place, meaning] of meanings.entries()) {
      const own = meaning === "b" ? lastLetter(meanings, place) : meaning;
      if (own !== undefined && columns[own] === undefined) columns[own] = place;
    }
  }
  const body = rows.slice((heading ?? -1) + 1, (heading ?? -1) + 1 + 200);
  byContent(columns, body);
  return {
    ...(heading !== undefined && { heading }),
    columns,
    ...whiteIn(rows.slice(0, (heading ?? -1) + 1)),
  };
}

/** “B” after “G” is blue, and after “a” it is b*. */
function lastLetter(meanings: readonly (Meaning | undefined)[], place: number): Meaning {
  const before = meanings.slice(0, place).findLast((meaning) => meaning === "a" || meaning === "green");
  return before === "green" ? "blue" : "b";
}

/** A share of the cells that settles what a column is. */
const SETTLED = 0.8;
/** Nothing else looks like “#7fb069”: rows that hold something else are the ones with an error. */
const MOSTLY = 0.5;

function byContent(columns: Columns, body: readonly (readonly Cell[])[]): void {
  const taken = new Set(Object.values(columns));
  const width = Math.max(0, ...body.map((row) => row.length));
  const free = Array.from({ length: width }, (_, place) => place).filter((place) => !taken.has(place));
  const share = (place: number, is: (text: string) => boolean) => {
    const texts = body.map((row) => String(row[place] ?? "").trim()).filter(Boolean);
    return texts.length === 0 ? 0 : texts.filter(is).length / texts.length;
  };
  const take = (meaning: Meaning, is: (text: string) => boolean, least = SETTLED) => {
    if (columns[meaning] !== undefined) return;
    const place = free.find((place) => share(place, is) >= least);
    if (place === undefined) return;
    columns[meaning] = place;
    free.splice(free.indexOf(place), 1);
  };
  const hasColor = (["hex", "lightness", "red", "rgb", "lab", "chromaX"] as const).some(
    (meaning) => columns[meaning] !== undefined,
  );
  if (!hasColor) take("hex", (text) => /^#/.test(text) && fromHex(text) !== undefined, MOSTLY);
  take("page", (text) => /^https?:\/\//.test(text));
  // What differs in every row and has a digit is what things are ordered by.
  if (columns.code === undefined) {
    const place = free.find((place) => {
      const texts = body.map((row) => String(row[place] ?? "").trim());
      return (
        texts.length > 0 &&
        new Set(texts).size === texts.length &&
        share(place, (text) => /\d/.test(text) && text.length <= 30) >= SETTLED
      );
    });
    if (place !== undefined) {
      columns.code = place;
      free.splice(free.indexOf(place), 1);
    }
  }
  take("name", (text) => /\p{L}{3}/u.test(text));
}

function whiteIn(rows: readonly (readonly Cell[])[]): { white?: White } {
  const text = rows.flat().join(" ");
  const said = WHITES.filter((white) => new RegExp(`\\b${white}\\b`, "i").test(text));
  return said.length === 1 ? { white: said[0] } : {};
}

/** @returns what is wrong with columns that somebody chose, or undefined */
export function wrongColumns(columns: Columns, width: number): string | undefined {
  const places = MEANINGS.flatMap((meaning) => columns[meaning] ?? []);
  if (new Set(places).size < places.length) return "One column cannot say two things.";
  if (places.some((place) => place >= width)) return `The table has ${width} columns.`;
  return undefined;
}
