import { wordsOfColor } from "#core/library/colorWords";
import type { DominantColor } from "#core/library/dominantColors";

/** What covers less is not what a surface is called by. */
const LEAST_SHARE = 0.12;

/**
 * What a surface may be called by its colours, the largest first, and how well each word says it: the share that is so, as well as the word
 * says that colour. `grey`, `pale`, `pale grey`: what all is warm or dark is so in its words as well.
 */
export function colorTerms(colors: readonly DominantColor[]): Record<string, number> {
  const terms = new Map<string, { share: number; said: number }>();
  const add = (term: string, share: number, nearness = 1) => {
    const known = terms.get(term) ?? { share: 0, said: 0 };
    terms.set(term, { share: known.share + share, said: known.said + share * nearness });
  };
  for (const { lab, share } of colors) {
    const { words, shades } = wordsOfColor(lab);
    for (const shade of shades) add(shade, share);
    for (const { word, nearness } of words) {
      add(word, share, nearness);
      for (const shade of shades) add(`${shade} ${word}`, share, nearness);
    }
  }
  return Object.fromEntries(
    [...terms]
      .filter(([, { share }]) => share >= LEAST_SHARE)
      .map(([term, { said }]) => [term, Number(said.toFixed(3))]),
  );
}

/** What is of no hue is sorted by its lightness; all else from warm to cool. */
const COLORLESS = 8;

/** The place of a surface in a row of colours: greys from light to dark, below 1; then hues from red over yellow to blue and violet, from 1 to 2. */
export function colorOrder([largest]: readonly DominantColor[]): number {
  const [light, a, b] = largest.lab;
  if (Math.hypot(a, b) < COLORLESS) return 1 - light / 101;
  const hue = (Math.atan2(b, a) / (2 * Math.PI) + 1.08) % 1;
  return 1 + hue;
}
