import { CARD_MM, CARD_RELIEF_MM, PATCH_SIDE, TEETH, type Side, type TeethName } from "#core/card/layout";
import type { Lean } from "#core/card/tilts";
import { srgbToLinear } from "#core/raster/srgb";
import { unit, type Vector } from "#core/shade/vector";

export const DECODINGS = ["raw", "decoded"] as const;
export type Decoding = (typeof DECODINGS)[number];

/** A part of all teeth of a patch. */
export interface SawPart {
  teeth: TeethName;
  /** From where a tooth begins, 0, to where it ends, 1. */
  from: number;
  to: number;
  /** How steep it falls. */
  falls: Record<Decoding, number>;
  /** How high its cliffs are, in widths of a tooth. */
  cliff: Record<Decoding, number>;
  /** At some places along it, how high it is: of its cliff, from 1 to 0. */
  profile: Record<Decoding, readonly Place[]>;
}

interface Place {
  along: number;
  high: number;
}
const PLACES = 8;

/** Apart above the middle of a tooth and below, where decoding bends it; never where it begins or ends, which its cliff lightens or darkens. */
export const SAW_PARTS: readonly SawPart[] = (
  [
    ["usual", 0.12, 0.45],
    ["usual", 0.55, 0.88],
    ["steep", 0.15, 0.45],
    ["steep", 0.55, 0.85],
    ["low", 0.15, 0.85],
    ["high", 0.15, 0.85],
  ] as const
).map(([teeth, from, to]) => {
  const { count, from: lowest, to: highest } = TEETH[teeth];
  const widthMm = (PATCH_SIDE * CARD_MM) / count;
  const code = (along: number) => highest - along * (highest - lowest);
  const between = (decode: (code: number) => number, a: number, b: number) =>
    ((decode(code(a)) - decode(code(b))) * CARD_RELIEF_MM) / widthMm;
  const both = (a: number, b: number): Record<Decoding, number> => ({
    raw: between((one) => one, a, b) / (b - a),
    decoded: between(srgbToLinear, a, b) / (b - a),
  });
  const profile = (decode: (code: number) => number): Place[] =>
    Array.from({ length: PLACES }, (_, place) => {
      const along = from + ((place + 0.5) / PLACES) * (to - from);
      return { along, high: between(decode, along, 1) / between(decode, 0, 1) };
    });
  return {
    ...{ teeth, from, to, falls: both(from, to), cliff: both(0, 1) },
    profile: { raw: profile((one) => one), decoded: profile(srgbToLinear) },
  };
});

const TOWARDS: Record<Side, Lean> = {
  left: { x: -1, y: 0 },
  right: { x: 1, y: 0 },
  up: { x: 0, y: 1 },
  down: { x: 0, y: -1 },
};

/** A way that a height may be meant. */
export interface Meant {
  decoding: Decoding;
  /** How many times as high as was asked for; less than 0 where white goes in. */
  amount: number;
  /** 1 where green of the normal map points up, −1 for down. */
  green: number;
  /** Whether what stands out hides the lamp. */
  isCast: boolean;
}

/** How a part of a saw leans that falls to a side, green up. */
export function sawNormal({ falls }: SawPart, side: Side, meant: Meant, atRest: Lean): Vector {
  const { x, y } = TOWARDS[side];
  const steep = meant.amount * falls[meant.decoding];
  return unit([atRest.x + x * steep, atRest.y + meant.green * y * steep, 1]);
}

/** Which share of a part the lamp reaches: the rest lies in the shade of the cliff of the next tooth, where the lamp is beyond it. */
export function litShare({ profile, cliff }: SawPart, side: Side, meant: Meant, lamp: Vector): number {
  if (!meant.isCast) return 1;
  const { x, y } = TOWARDS[side];
  const towards = lamp[0] * x + lamp[1] * meant.green * y;
  const steep = meant.amount * cliff[meant.decoding];
  if (towards * steep <= 0) return 1;
  const rise = lamp[2] / Math.abs(towards) / Math.abs(steep);
  let lit = 0;
  for (const { along, high } of profile[meant.decoding])
    // A tooth that falls ends at a cliff; one that rises begins at one.
    lit += Number(steep > 0 ? 1 - high <= (1 - along) * rise : high <= along * rise);
  return lit / PLACES;
}
