import { lightOf } from "#core/card/cardFigures";
import { fitLamp, spreadOf, type LampFit, type Leaning } from "#core/card/lampFit";
import { SLOPED_CODES, TILTS, tiltId } from "#core/card/layout";
import type { SampledCard } from "#core/card/sampleCard";
import { srgbToLinear } from "#core/raster/srgb";
import { unit } from "#core/shade/vector";

/** A direction on the card, x to the right and y up, of length 1 or less. */
export interface Lean {
  x: number;
  y: number;
}

const TILTED = { spread: 0.4, error: 0.25 };

/** What the patches of the normal map say, taken for green up. */
export interface Tilts {
  isThere: boolean;
  /** Surely not there; neither is said of what is between. */
  isNone: boolean;
  /** The light that explains them where codes are taken as they are, and where they are decoded. */
  raw: LampFit;
  decoded: LampFit;
  /** The better of the two. */
  best: LampFit;
  /** From where most light comes. */
  lean: Lean;
  /** What was seen of each, and how it leans by the better of the two. */
  leanings: readonly Leaning[];
  /** How what slopes of the height lie on leans. */
  atRest: Lean;
}

export function tiltsOf(card: SampledCard): Tilts {
  const seen = TILTS.map(([x, y]) => ({ x, y, light: lightOf(card, tiltId(x, y)) }));
  const level = { ...SLOPED_CODES, light: lightOf(card, "level") };
  const leanings = (decode: (code: number) => number): Leaning[] =>
    [...seen, level].map(({ x, y, light }) => ({
      light,
      normal: unit([decode(x) * 2 - 1, decode(y) * 2 - 1, 1]),
    }));
  const read = { raw: leanings((code) => code), decoded: leanings(srgbToLinear) };
  const [raw, decoded] = [fitLamp(read.raw), fitLamp(read.decoded)];
  const best = raw.error < decoded.error ? raw : decoded;
  const spread = spreadOf(seen.map(({ light }) => light));
  const lean = (code: number) => 2 * (best === raw ? code : srgbToLinear(code)) - 1;
  return {
    ...{ raw, decoded, best },
    leanings: best === raw ? read.raw : read.decoded,
    // A glare makes patches differ as well, but no lamp explains how.
    isThere: spread > TILTED.spread && best.error < TILTED.error * spread,
    isNone: spread < TILTED.spread / 2 || best.error > 2 * TILTED.error * spread,
    lean: leanOf(best.lamp),
    atRest: { x: lean(SLOPED_CODES.x), y: lean(SLOPED_CODES.y) },
  };
}

export const leanOf = ([x, y]: readonly number[]): Lean => {
  const length = Math.max(1e-9, Math.hypot(x, y));
  return { x: x / length, y: y / length };
};
