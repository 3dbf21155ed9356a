import type { ZxcvbnFactory } from "@zxcvbn-ts/core";

/** "Safely unguessable" by the package's own scale of 0 to 4. */
const LEAST_SCORE = 3;
/** Guessing takes longer the longer the text is; the rest of a long one only adds to it. */
const MOST_JUDGED = 80;

let made: Promise<ZxcvbnFactory> | undefined;

/** Its dictionaries are larger than all else that a process reads when it starts: they are read for the first password. */
async function make(): Promise<ZxcvbnFactory> {
  const [{ ZxcvbnFactory }, { adjacencyGraphs, dictionary: common }, { dictionary: english }] =
    await Promise.all([
      import("@zxcvbn-ts/core"),
      import("@zxcvbn-ts/language-common"),
      import("@zxcvbn-ts/language-en"),
    ]);
  return new ZxcvbnFactory({ graphs: adjacencyGraphs, dictionary: { ...common, ...english } });
}

/**
 * Whether a password is easily guessed: a word, a row of keys, a repetition, a date.
 * @param known words of the person's own, such as the name and the address
 */
export async function isWeakPassword(password: string, known: string[]): Promise<boolean> {
  const words = known
    .flatMap((text) => [text, ...text.split(/[^\p{L}\p{N}]+/u)])
    .filter((word) => word.length > 2);
  const judge = await (made ??= make());
  return judge.check(password.slice(0, MOST_JUDGED), ["kalonomy", ...words]).score < LEAST_SCORE;
}
