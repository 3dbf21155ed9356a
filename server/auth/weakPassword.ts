import { ZxcvbnFactory } from "@zxcvbn-ts/core";
import { adjacencyGraphs, dictionary as common } from "@zxcvbn-ts/language-common";
import { dictionary as english } from "@zxcvbn-ts/language-en";

/** "Safely unguessable" by the package's own scale of 0 to 4. */
const LEAST_SCORE = 3;
/** Guessing takes longer the longer the text is; the rest of a long one only adds to it. */
const MOST_JUDGED = 80;

let made: ZxcvbnFactory | undefined;

/**
 * Whether a password is easily guessed: a word, a row of keys, a repetition, a date.
 * @param known words of the person's own, such as the name and the address
 */
export function isWeakPassword(password: string, known: string[]): boolean {
  made ??= new ZxcvbnFactory({ graphs: adjacencyGraphs, dictionary: { ...common, ...english } });
  const words = known
    .flatMap((text) => [text, ...text.split(/[^\p{L}\p{N}]+/u)])
    .filter((word) => word.length > 2);
  return made.check(password.slice(0, MOST_JUDGED), ["kalonomy", ...words]).score < LEAST_SCORE;
}
