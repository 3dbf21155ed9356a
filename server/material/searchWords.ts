import { z } from "zod";
import { COLOR_SHADES, COLOR_WORDS, colorOfWord, shadeOfWord } from "#core/library/colorWords";
import { type Db, rows } from "#server/db/database";

/** One thing that is looked for: a material has it where it has all words of one of these texts, or one of these colours. */
export interface Sought {
  texts: string[][];
  /** Names of `colorTerms`. */
  terms: string[];
}

export interface Search {
  sought: Sought[];
  /** Words that nothing has, and those that are a letter away from them. */
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
  const sought = soughtIn(words);
  const instead: Search["instead"] = [];
  for (const one of sought) {
    const [word] = one.texts[0];
    if (one.terms.length > 0 || one.texts[0].length > 1 || word.length < LEAST_LETTERS) continue;
    if (await isKnown(db, word)) continue;
    const read = await lettersAway(db, word);
    if (read.length === 0) continue;
    instead.push({ typed: word, read });
    const meant = read.map((other) => soughtIn([other])[0]);
    one.texts = meant.flatMap(({ texts }) => texts);
    one.terms = meant.flatMap(({ terms }) => terms);
  }
  return { sought, instead };
}

/** Shades go with the colours beside them; all else stands for itself. */
export function soughtIn(words: readonly string[]): Sought[] {
  const colors = words.flatMap((word) => ({ word, color: colorOfWord(word) })).filter(({ color }) => color);
  const shades = words.flatMap((word) => ({ word, shade: shadeOfWord(word) })).filter(({ shade }) => shade);
  const others = words.filter((word) => !colorOfWord(word) && !shadeOfWord(word));
  const shaded = colors.flatMap(({ word, color }) =>
    shades.map((shade) => ({ texts: [[shade.word, word]], terms: [`${shade.shade} ${color}`] })),
  );
  const plain =
    shades.length === 0
      ? colors.map(({ word, color }) => ({ texts: [[word]], terms: [color!] }))
      : colors.length === 0
        ? shades.map(({ word, shade }) => ({ texts: [[word]], terms: [shade!] }))
        : [];
  return [...shaded, ...plain, ...others.map((word) => ({ texts: [[word]], terms: [] }))];
}

/** A word of fewer letters is a letter away from too many. */
const LEAST_LETTERS = 4;
const MOST_LETTERS = 40;

const escaped = (word: string) => word.replaceAll(/[\\%_]/g, "\\$&");

const SUPPLIED = `SELECT s.id FROM sources s JOIN suppliers u ON u.id = s.supplier WHERE fold(u.name) LIKE fold(`;

/** The SQL that a material `m` has a text: in its name or code, or its supplier's or line's name. @param at the parameter, a pattern */
export const hasText = (at: string): string =>
  `(m.words LIKE fold(${at}) OR m.source IN (${SUPPLIED}${at})) OR m.line IN (SELECT id FROM lines WHERE fold(name) LIKE fold(${at})))`;

export const patternOf = (word: string): string => `%${escaped(word)}%`;

async function isKnown(db: Db, word: string): Promise<boolean> {
  const found = await rows(
    db,
    z.object({ known: z.boolean() }),
    `SELECT EXISTS (SELECT FROM materials m WHERE m.deleted_at IS NULL AND ${hasText("$1")}) AS known`,
    [patternOf(word)],
  );
  return found[0].known;
}

/** Words of the library that are one letter away: another one, one too many or too few, or two exchanged. */
async function lettersAway(db: Db, word: string): Promise<string[]> {
  if (word.length > MOST_LETTERS) return [];
  const exchanged = Array.from(
    { length: word.length - 1 },
    (_, at) => word.slice(0, at) + word[at + 1] + word[at] + word.slice(at + 2),
  );
  const middle = Math.floor(word.length / 2);
  // One letter cannot be wrong in both halves.
  const parts = [word.slice(0, middle), word.slice(middle), ...exchanged];
  const found = await rows(
    db,
    z.object({ word: z.string(), count: z.number() }),
    `WITH typed AS (SELECT fold($1) AS word),
       known AS (
         SELECT word FROM materials m, LATERAL regexp_split_to_table(m.words, '[^[:alnum:]]+') AS word
          WHERE m.deleted_at IS NULL AND m.words LIKE ANY (SELECT fold(part) FROM unnest($2::text[]) AS part)
         UNION ALL SELECT regexp_split_to_table(fold(name), '[^[:alnum:]]+') FROM suppliers
         UNION ALL SELECT regexp_split_to_table(fold(name), '[^[:alnum:]]+') FROM lines
         UNION ALL SELECT unnest($3::text[]))
     SELECT known.word, count(*)::int AS count FROM known, typed
      WHERE length(known.word) BETWEEN ${LEAST_LETTERS - 1} AND ${MOST_LETTERS + 1}
        AND (levenshtein_less_equal(known.word, typed.word, 1) <= 1
          OR known.word IN (SELECT fold(other) FROM unnest($4::text[]) AS other))
      GROUP BY known.word ORDER BY count(*) DESC, known.word LIMIT 5`,
    [word, parts.map(patternOf), [...COLOR_WORDS, ...COLOR_SHADES], exchanged],
  );
  return found.map((row) => row.word);
}
