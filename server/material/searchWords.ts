import { z } from "zod";
import type { Family } from "#core/finish/family";
import { FAMILY_NAMES, familyOfWord } from "#core/library/familyWords";
import { COLOR_SHADES, COLOR_WORDS, colorOfWord, shadeOfWord } from "#core/library/colorWords";
import { type Db, rows } from "#server/db/database";

/** A word that somebody typed, and which names have it. */
export interface TextSought {
  word: string;
  /** A name of a colour counts where it stands alone: "red" is in many a word that has nothing to do with it. */
  isWhole: boolean;
  /** A supplier's or a line's: those are few, and mostly none of them has it. */
  isSuppliers: boolean;
  isLines: boolean;
}

/** One thing that is looked for: a material has it where it has one of these words, one of these colours, or that family. */
export interface Sought {
  texts: TextSought[];
  /** Names of `colorTerms`. */
  terms: string[];
  /** Those that are called so. */
  families: Family[];
}

export interface Search {
  sought: Sought[];
  /** Words that nothing has, and those that are a letter away from them, if any. */
  instead: { typed: string; read: string[] }[];
}

/** More words than these narrow nothing down. */
const MOST_WORDS = 8;

/**
 * Reads what somebody typed to find materials: in any order, words of name, code, tag, supplier or line, families ("wood") and colours ("pale grey", "brown"). A
 * word that nothing has is taken for those that are one wrong letter away.
 */
export async function readSearch(db: Db, typed: string): Promise<Search> {
  const words = typed.split(/\s+/).filter(Boolean).slice(0, MOST_WORDS);
  const sought: Sought[] = [];
  const instead: Search["instead"] = [];
  for (const meant of meantBy(words)) {
    const { word } = meant;
    const text = await placesOf(db, meant);
    const families = familiesOf([word]);
    const isKnown = meant.terms.length + families.length > 0 || isAnywhere(text);
    if (isKnown || !MAY_BE_WRONG.test(word)) {
      sought.push({ texts: [text], terms: meant.terms, families });
      continue;
    }
    // What it was meant to be may be a colour.
    const found = await Promise.all(
      (await lettersAway(db, word)).map(async (other) => {
        const [one] = meantBy([other]);
        return { other, text: await placesOf(db, one), terms: one.terms };
      }),
    );
    const read = found.filter(
      ({ other, text, terms }) => terms.length + familiesOf([other]).length > 0 || isAnywhere(text),
    );
    instead.push({ typed: word, read: read.map(({ other }) => other) });
    sought.push({
      texts: [text, ...read.map((one) => one.text)],
      terms: read.flatMap(({ terms }) => terms),
      families: familiesOf(read.map(({ other }) => other)),
    });
  }
  return { sought, instead };
}

const familiesOf = (words: readonly string[]): Family[] => words.flatMap((word) => familyOfWord(word) ?? []);

interface Meant {
  word: string;
  /** Names of `colorTerms`; what has some is a colour's name as a text. */
  terms: string[];
}

/** A shade goes with one of the colours, whichever: in "pale green purple" the purple may be dark. All else stands for itself. */
function meantBy(words: readonly string[]): Meant[] {
  const colors = [...new Set(words.flatMap((word) => colorOfWord(word) ?? []))];
  return words.map((word) => {
    const [color, shade] = [colorOfWord(word), shadeOfWord(word)];
    if (color) return { word, terms: [color] };
    if (!shade) return { word, terms: [] };
    return {
      word,
      terms: colors.length === 0 ? [shade] : colors.map((color) => `${shade} ${color}`),
    };
  });
}

/** A word of fewer letters is a letter away from too many. */
const LEAST_LETTERS = 4;
const MOST_LETTERS = 40;
/** Codes, sizes and signs are meant as they are. */
const MAY_BE_WRONG = new RegExp(`^\\p{L}{${LEAST_LETTERS},${MOST_LETTERS}}$`, "u");

const escaped = (word: string) => word.replaceAll(/[\\%_]/g, "\\$&");

/** The SQL that a name has a word. @param at the parameter, as `patternOf` gives it */
const has = (name: string, { isWhole }: Pick<TextSought, "isWhole">, at: string) =>
  `${name} ${isWhole ? "~" : "LIKE"} fold(${at})`;

/** The SQL that a material `m` has a word: in its name or code, or its supplier's or line's name. */
export function hasText(text: TextSought, at: string): string {
  const places = [
    has("m.words", text, at),
    ...(text.isSuppliers
      ? [
          `m.source IN (SELECT s.id FROM sources s JOIN suppliers u ON u.id = s.supplier WHERE ${has("fold(u.name)", text, at)})`,
        ]
      : []),
    ...(text.isLines ? [`m.line IN (SELECT id FROM lines WHERE ${has("fold(name)", text, at)})`] : []),
  ];
  return `(${places.join(" OR ")})`;
}

/** What a name is held against: a whole word of letters, or any part. */
export const patternOf = ({ word, isWhole }: Pick<TextSought, "word" | "isWhole">): string =>
  isWhole ? `(^|[^[:alnum:]])${word}($|[^[:alnum:]])` : `%${escaped(word)}%`;

const placesSchema = z.object({ isNames: z.boolean(), isSuppliers: z.boolean(), isLines: z.boolean() });
interface Places extends TextSought {
  isNames: boolean;
}

async function placesOf(db: Db, { word, terms }: Meant): Promise<Places> {
  const text = { word, isWhole: terms.length > 0 };
  const [places] = await rows(
    db,
    placesSchema,
    `SELECT EXISTS (SELECT FROM materials WHERE deleted_at IS NULL AND ${has("words", text, "$1")}) AS "isNames",
       EXISTS (SELECT FROM suppliers WHERE ${has("fold(name)", text, "$1")}) AS "isSuppliers",
       EXISTS (SELECT FROM lines WHERE ${has("fold(name)", text, "$1")}) AS "isLines"`,
    [patternOf(text)],
    "each-time",
  );
  return { ...text, ...places };
}

const isAnywhere = ({ isNames, isSuppliers, isLines }: Places) => isNames || isSuppliers || isLines;

const wordSchema = z.object({ word: z.string() });

/** Words of the library that are one letter away: another one, one too many or too few, or two exchanged. */
async function lettersAway(db: Db, word: string): Promise<string[]> {
  const exchanged = Array.from(
    { length: word.length - 1 },
    (_, at) => word.slice(0, at) + word[at + 1] + word[at] + word.slice(at + 2),
  );
  const middle = Math.floor(word.length / 2);
  const found = await rows(
    db,
    wordSchema,
    // One letter cannot be wrong in both halves.
    `WITH known AS (
         SELECT word FROM library_words
          WHERE word LIKE fold($2) OR reverse(word) LIKE fold($3) OR word = ANY ($4)
         UNION SELECT regexp_split_to_table(fold(name), '[^[:alnum:]]+') FROM suppliers
         UNION SELECT regexp_split_to_table(fold(name), '[^[:alnum:]]+') FROM lines
         UNION SELECT unnest($5::text[]))
     SELECT word FROM known
      WHERE length(word) BETWEEN ${LEAST_LETTERS - 1} AND ${MOST_LETTERS + 1}
        AND (levenshtein_less_equal(word, fold($1), 1) <= 1 OR word = ANY ($4))
      ORDER BY left(word, 1) <> left(fold($1), 1), word LIMIT 5`,
    [
      word,
      `${escaped(word.slice(0, middle))}%`,
      `${escaped([...word.slice(middle)].reverse().join(""))}%`,
      exchanged.map((one) => one.toLowerCase()),
      [...COLOR_WORDS, ...COLOR_SHADES, ...FAMILY_NAMES],
    ],
    "each-time",
  );
  return found.map((row) => row.word);
}
