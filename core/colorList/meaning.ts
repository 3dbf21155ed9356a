/** What a column of a list of colours may say. */
export const MEANINGS = [
  "code",
  "name",
  "hex",
  "rgb",
  "red",
  "green",
  "blue",
  "lab",
  "lightness",
  "a",
  "b",
  "chromaX",
  "chromaY",
  "luminance",
  "gloss",
  "sheen",
  "family",
  "page",
] as const;
export type Meaning = (typeof MEANINGS)[number];

/** How each stands beside a column, for people. */
export const MEANING_NAMES: Record<Meaning, string> = {
  code: "code",
  name: "name",
  hex: "colour as hex",
  rgb: "red, green and blue in one cell",
  red: "red",
  green: "green",
  blue: "blue",
  lab: "L*, a* and b* in one cell",
  lightness: "L*",
  a: "a*",
  b: "b*",
  chromaX: "x",
  chromaY: "y",
  luminance: "Y (luminance)",
  gloss: "gloss units at 60°",
  sheen: "sheen as a word",
  family: "family",
  page: "page (address)",
};

/** Which column says what: places from 0, each meaning once. */
export type Columns = Partial<Record<Meaning, number>>;

/** A colour stands in one of these ways, the most exact first; all columns of a way have to be there. */
export const NOTATIONS = {
  Lab: ["lightness", "a", "b"],
  "Lab in one cell": ["lab"],
  xyY: ["chromaX", "chromaY", "luminance"],
  RGB: ["red", "green", "blue"],
  "RGB in one cell": ["rgb"],
  hex: ["hex"],
} as const satisfies Record<string, readonly Meaning[]>;
export type Notation = keyof typeof NOTATIONS;

/** The ways that a list's columns have in full, the most exact first. */
export const notationsOf = (columns: Columns): Notation[] =>
  (Object.keys(NOTATIONS) as Notation[]).filter((notation) =>
    NOTATIONS[notation].every((meaning) => columns[meaning] !== undefined),
  );
