import { z } from "zod";
import { COLOR_SHADES, COLOR_WORDS, colorOfWord, shadeOfWord } from "#core/library/colorWords";
import { type Db, rows } from "#server/db/database";

/** A word that somebody typed, and which names have it. */
export interface TextSought {
  word: string;
  /** A supplier's or a line's: those are few, and mostly none of them has it. */
  isSuppliers: boolean;
  isLines: boolean;
}

/** One thing that is looked for: a material has it where it has all words of one of these texts, or one of these colours. */
export interface Sought {
  texts: TextSought[][];
  /** Names of `colorTerms`. */
  terms: string[];
}

export interface Search {
  sought: Sought[];
  /** Words that nothing has, and those that are a letter away from them, if any. */
  instead: { typed: string; read: string[] }[];
}

/** More words than these narrow nothing down. */
const MOST_WORDS = 8;

/**
 * Reads what somebody typed to find materials: in any order, words of name, code, supplier or line, and colours ("pale grey", "brown"). A
 * word that nothing has is taken for those that are one wrong letter away.
 */
export async function readSearch(db: Db, typed: string): Promise<Search> {
  const words = typed.split(/\s+/).filter(Boolean).slice(0, MOST_WORDS);
  const sought: Sought[] = [];
  const instead: Search["instead"] = [];
  for (const { texts, terms } of meantBy(words)) {
    const places = await Promise.all(texts.map((word) => placesOf(db, word)));
    const isUnknown = terms.length === 0 && !isAnywhere(places[0]);
    if (!isUnknown || !MAY_BE_WRONG.test(places[0].word)) {
      sought.push({ texts: [places], terms });
      continue;
    }
    const read = await lettersAway(db, places[0].word);
    instead.push({ typed: places[0].word, read });
    const meant = read.flatMap((word) => meantBy([word]));
    sought.push({
      texts: [[places[0]], ...(await Promise.all(read.map(async (word) => [await placesOf(db, word)])))],
      terms: meant.flatMap((one) => one.terms),
    });
  }
  return { sought, instead };
}

/** Shades go with the colours beside them; all else stands for itself. */
function meantBy(words: readonly string[]): { texts: string[]; terms: string[] }[] {
  const colors = words.flatMap((word) => ({ word, color: colorOfWord(word) })).filter(({ color }) => color);
  const shades = words.flatMap((word) => ({ word, shade: shadeOfWord(word) })).filter(({ shade }) => shade);
  const others = words.filter((word) => !colorOfWord(word) && !shadeOfWord(word));
  const shaded = colors.flatMap(({ word, color }) =>
    shades.map((shade) => ({ texts: [shade.word, word], terms: [`${shade.shade} ${color}`] })),
  );
  const plain =
    shades.length === 0
      ? colors.map(({ word, color }) => ({ texts: [word], terms: [color!] }))
      : colors.length === 0
        ? shades.map(({ word, shade }) => ({ texts: [word], terms: [shade!] }))
        : [];
  return [...shaded, ...plain, ...others.map((word) => ({ texts: [word], terms: [] }))];
}

/** A word of fewer letters is a letter away from too many. */
const LEAST_LETTERS = 4;
const MOST_LETTERS = 40;
/** Codes, sizes and signs are meant as they are. */
const MAY_BE_WRONG = new RegExp(`^\\p{L}{${LEAST_LETTERS},${MOST_LETTERS}}$`, "u");

const escaped = (word: string) => word.replaceAll(/[\\%_]/g, "\\$&");

/** The SQL that a material `m` has a word: in its name or code, or its supplier's or line's name. @param at its parameter, as `patternOf` gives it */
export function hasText({ isSuppliers, isLines }: TextSought, at: string): string {
  const places = [
    `m.words LIKE fold(${at})`,
    ...(isSuppliers
      ? [
          `m.source IN (SELECT s.id FROM sources s JOIN suppliers u ON u.id = s.supplier WHERE fold(u.name) LIKE fold(${at}))`,
        ]
      : []),
    ...(isLines ? [`m.line IN (SELECT id FROM lines WHERE fold(name) LIKE fold(${at}))`] : []),
  ];
  return `(${places.join(" OR ")})`;
}

export const patternOf = (word: string): string => `%${escaped(word)}%`;

const placesSchema = z.object({ isNames: z.boolean(), isSuppliers: z.boolean(), isLines: z.boolean() });
type Places = z.infer<typeof placesSchema> & { word: string };

async function placesOf(db: Db, word: string): Promise<Places> {
  const [places] = await rows(
    db,
    placesSchema,
    `SELECT EXISTS (SELECT FROM materials WHERE deleted_at IS NULL AND words LIKE fold($1)) AS "isNames",
       EXISTS (SELECT FROM suppliers WHERE fold(name) LIKE fold($1)) AS "isSuppliers",
       EXISTS (SELECT FROM lines WHERE fold(name) LIKE fold($1)) AS "isLines"`,
    [patternOf(word)],
  );
  return { word, ...places };
}

const isAnywhere = ({ isNames, isSuppliers, isLines }: Places) => isNames || isSuppliers || isLines;

/** Words of the library that are one letter away: another one, one too many or too few, or two exchanged. */
async function lettersAway(db: Db, word: string): Promise<string[]> {
  const exchanged = Array.from(
    { length: word.length - 1 },
    (_, at) => word.slice(0, at) + word[at + 1] + word[at] + word.slice(at + 2),
  );
  const middle = Math.floor(word.length / 2);
  const found = await rows(
    db,
    z.object({ word: z.string() }),
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
      [...COLOR_WORDS, ...COLOR_SHADES],
    ],
  );
  return found.map((row) => row.word);
}
