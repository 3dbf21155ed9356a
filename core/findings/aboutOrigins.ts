import { kindOf } from "#core/findings/kind";
import type { Likeness } from "#core/judge/likeness";
import { likenessWords } from "#core/judge/likenessWords";
import { formatSize } from "#core/length/formatLength";
import type { Repeat } from "#core/length/repeat";
import { mendWords, type MakingRecipe } from "#core/mend/recipe";

const GUESSES = {
  estimate: "a picture does not know it: it is a guess",
  "slopes-without-size": "its size is not known, so how steep it is was assumed",
  "amplitude-assumed": "the height's amplitude is assumed",
};

export type Guess = keyof typeof GUESSES;

/** What is said of where a material and its maps come from: another one, the library, a supplier, a licence. */
export const ABOUT_ORIGINS = {
  "same-file": kindOf<{ material: string; isMadeFrom: boolean }>({
    level: "look",
    answer: "acceptance",
    sentence: ({ material, isMadeFrom }) =>
      isMadeFrom
        ? `The same picture, file for file, is what “${material}” of the library was made from.`
        : `The same picture, file for file, is in the library as “${material}”.`,
  }),
  "same-picture": kindOf<{ material: string; likeness: Likeness; isFirst: boolean }>({
    level: "look",
    answer: "acceptance",
    sentence: ({ material, likeness, isFirst }) => likenessWords(likeness, material, isFirst),
  }),
  "more-alike": kindOf<{ count: number }>({
    level: "look",
    answer: "acceptance",
    sentence: ({ count }) => `${count} more of the library are like it: see Alike.`,
  }),
  "sheet-disagrees": kindOf<{ across: number; up: number; stretchPercent: number }>({
    level: "look",
    answer: "size",
    sentence: ({ across, up, stretchPercent }) =>
      `By the product sheet ${across} × ${up} modules fill the picture, which would stretch it by ${stretchPercent.toFixed(1)} %. The size is taken over as assumed: gauge it.`,
  }),
  "licence-unconfirmed": kindOf<{ licence: string; sentence: string }>({
    level: "look",
    answer: "licence",
    sentence: ({ licence, sentence }) =>
      `A licence text came with it (${licence}: “${sentence}”); nobody has confirmed it yet.`,
  }),
  derived: kindOf<{ recipe: MakingRecipe; guesses: readonly Guess[] }>({
    level: ({ guesses }) => (guesses.includes("estimate") ? "look" : "note"),
    sentence: ({ recipe, guesses }) =>
      `${[mendWords(recipe), ...guesses.map((guess) => GUESSES[guess])].join("; ")}.`,
  }),
  flattened: kindOf<{ code: string; name: string; window: Repeat; widthPx: number; heightPx: number }>({
    level: "note",
    sentence: ({ code, name, window, widthPx, heightPx }) =>
      `Flattened from ${code} ${name}: ${formatSize(window)} in ${widthPx} × ${heightPx} px.`,
  }),
};
