import { lightOf } from "#core/card/cardFigures";
import { fitLamp, type LampFit } from "#core/card/lampFit";
import {
  CARD_MM,
  CARD_RELIEF_MM,
  HALF_DECODED,
  PATCH_SIDE,
  SIDES,
  TEETH,
  TILTS,
  tiltId,
  type Side,
} from "#core/card/layout";
import { meanOf, type SampledCard } from "#core/card/sampleCard";
import { srgbToLinear } from "#core/raster/srgb";
import { luminance } from "#core/shade/rgb";
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
  /** From the darkest to the lightest, against their mean. */
  spread: number;
  /** The light that explains them where codes are taken as they are, and where they are decoded. */
  raw: LampFit;
  decoded: LampFit;
  /** The better of the two. */
  best: LampFit;
  /** From where most light comes. */
  lean: Lean;
  /** How what lies at rest leans: not at all, unless codes are decoded. */
  atRest: Lean;
}

/** Nearer together than this, they are all the same. */
const LEAST_SPREAD = 0.09;

export function tiltsOf(card: SampledCard): Tilts {
  const seen = TILTS.map(([x, y]) => ({ x, y, light: lightOf(card, tiltId(x, y)) }));
  const fit = (decode: (code: number) => number) =>
    fitLamp(
      seen.map(({ x, y, light }) => ({ light, normal: unit([decode(x) * 2 - 1, decode(y) * 2 - 1, 1]) })),
    );
  const [raw, decoded] = [fit((code) => code), fit(srgbToLinear)];
  const best = raw.error < decoded.error ? raw : decoded;
  const spread = spreadOf(seen.map(({ light }) => light));
  const tilt = best === raw ? 0 : 2 * HALF_DECODED - 1;
  return {
    ...{ spread, raw, decoded, best },
    // A glare makes patches differ as well, but no lamp explains how.
    isThere: spread > TILTED.spread && best.error < TILTED.error * spread,
    isNone: spread < TILTED.spread / 2 || best.error > 2 * TILTED.error * spread,
    lean: leanOf(best.lamp),
    atRest: { x: tilt, y: tilt },
  };
}

const leanOf = ([x, y]: readonly number[]): Lean => {
  const length = Math.max(1e-9, Math.hypot(x, y));
  return { x: x / length, y: y / length };
};

function spreadOf(lights: readonly number[]): number {
  const mean = lights.reduce((sum, light) => sum + light, 0) / lights.length;
  return (Math.max(...lights) - Math.min(...lights)) / mean;
}

/** What the saw teeth of the height say. */
export interface Relief {
  isThere: boolean;
  spread: number;
  /** What the light that normals found would make of slopes as they were asked for; null where no normals tell of it. */
  expectedSpread: number | null;
  /** 1 where white stands out, −1 where it goes in, 0 where normals do not tell. */
  out: 1 | -1 | 0;
  /** Which way green points by it, 1 up or −1 down, and how much better that fits than the contrary. */
  green: { sign: number; by: number };
  /** To where slopes that fall are light. */
  lean: Lean;
  /** How many times as steep as they were asked for; null where no normals tell. */
  times: number | null;
  /** How far from the light that slopes so steep would have, as a share of how far the sides lie apart. */
  misfit: number | null;
  /** How much steeper the upper half of a tooth is than the lower: −1 for as steep, 1 for what decoding makes of it; null where it cannot be told. */
  bend: number | null;
}

/** As an even slope of a tooth falls. */
const SLOPE = CARD_RELIEF_MM / ((PATCH_SIDE * CARD_MM) / TEETH);
const TOWARDS: Record<Side, Lean> = {
  left: { x: -1, y: 0 },
  right: { x: 1, y: 0 },
  up: { x: 0, y: 1 },
  down: { x: 0, y: -1 },
};
/** How much one explanation has to be better than its contrary. */
const BETTER = 1.5;

/** Whether slopes are so unlike each other that they may be much too steep. */
export const isSteep = ({ isThere, spread }: Relief): boolean => isThere && spread > 1.2;

/** Whether they may, and no normals say whether they are: what is bent looks even then, and bumps are cliffs that have no highlight. */
export const mayBeCliffs = (relief: Relief): boolean => isSteep(relief) && relief.times === null;

/** Whether slopes show enough to be believed against where the lamp was asked for. */
export const isAgainstLamp = ({ spread, green }: Pick<Relief, "spread" | "green">): boolean =>
  spread > 0.3 && green.by > 5;

const AMOUNTS = Array.from({ length: 38 }, (_, step) => 0.03 * 1.2 ** step);

/** @param asked from where the lamp shines if it stands where it was asked for */
export function reliefOf(card: SampledCard, tilts: Tilts, asked: Lean): Relief {
  const whole = SIDES.map((side) => toothLight(card, side, 0.2, 0.8));
  const spread = spreadOf(whole);
  const [left, right, up, down] = whole;
  const lean = { x: right - left, y: up - down };
  const length = Math.max(1e-9, Math.hypot(lean.x, lean.y));
  const base: Relief = {
    isThere: spread > LEAST_SPREAD,
    spread,
    expectedSpread: tilts.isThere ? expectedSpread(tilts) : null,
    out: 0,
    green: { sign: 1, by: 1 },
    lean: { x: lean.x / length, y: lean.y / length },
    times: null,
    misfit: null,
    bend: null,
  };
  if (!base.isThere) return base;
  if (!tilts.isThere) return { ...base, bend: bendAlone(card) };
  // Every way that it may be meant, and how well the light that normals found explains it then.
  const ways = ([1, -1] as const).flatMap((out) =>
    ([1, -1] as const).map((green) => ({ out, green, ...bestAmount(whole, tilts, out, green) })),
  );
  const error = (key: "out" | "green", sign: number, of = ways) =>
    Math.min(...of.filter((way) => way[key] === sign).map((way) => way.error));
  const [greenUp, greenDown] = [error("green", 1), error("green", -1)];
  const green = {
    sign: greenUp < greenDown ? 1 : -1,
    by: Math.max(greenUp, greenDown) / Math.max(1e-6, Math.min(greenUp, greenDown)),
  };
  // A lamp that stands straight above or straight to a side leaves it open: then it stands where it was asked for.
  const likely = isAgainstLamp({ spread, green }) ? green.sign : Math.sign(tilts.lean.y * asked.y) || 1;
  const fitting = ways.filter((way) => way.green === likely);
  const [plus, minus] = [error("out", 1, fitting), error("out", -1, fitting)];
  const out = plus * BETTER < minus ? 1 : minus * BETTER < plus ? -1 : 0;
  if (out === 0) return { ...base, out, green };
  const { amount: times, error: misfit } = bestAmount(whole, tilts, out, likely);
  return { ...base, out, green, times, misfit: misfit / spread, bend: bendOf(card, tilts, out, likely) };
}

/** Light of slopes that fall to each side. @param amount 1 for as steep as asked for, less than 0 where white goes in */
const slopesIn = (
  { best, atRest }: Pick<Tilts, "best" | "atRest">,
  amount: number,
  green: number,
): number[] =>
  SIDES.map((side) => {
    const { x, y } = TOWARDS[side];
    const steep = amount * SLOPE;
    return best.seen(unit([atRest.x + x * steep, atRest.y + green * y * steep, 1]));
  });

const expectedSpread = (tilts: Tilts): number =>
  Math.min(...[1, -1].flatMap((amount) => [1, -1].map((green) => spreadOf(slopesIn(tilts, amount, green)))));

function bestAmount(lights: readonly number[], { best: light, atRest }: Tilts, out: number, green: number) {
  const seen = centred(lights);
  let best = { amount: 0, error: Infinity };
  for (const amount of AMOUNTS) {
    // Only how the sides differ: edges of the teeth lighten or darken all four alike.
    const predicted = centred(slopesIn({ best: light, atRest }, out * amount, green));
    const squares = seen.reduce((sum, one, at) => sum + (one - predicted[at]) ** 2, 0);
    const error = Math.sqrt(squares / lights.length);
    if (error < best.error) best = { amount, error };
  }
  return best;
}

function centred(values: readonly number[]): number[] {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return values.map((value) => value - mean);
}

/** An even slope that was decoded is so much steeper above the middle than below. */
const DECODED_RATIO = 3.3;

/** Parts of a tooth above its middle and below. */
const UPPER = [0.12, 0.45] as const;
const LOWER = [0.55, 0.88] as const;

const bendBy = (ratio: number): number => (2 * Math.log(ratio)) / Math.log(DECODED_RATIO) - 1;

/** How an even slope is bent: −1 for not at all. */
function bendOf(card: SampledCard, tilts: Tilts, out: number, green: number): number {
  const amount = (from: number, to: number) =>
    bestAmount(
      SIDES.map((side) => toothLight(card, side, from, to)),
      tilts,
      out,
      green,
    ).amount;
  return bendBy(amount(...UPPER) / amount(...LOWER));
}

/** The same where no normals tell of the light: by how far the sides lie apart, above the middle and below. */
function bendAlone(card: SampledCard): number {
  const contrast = (from: number, to: number) => {
    const [left, right, up, down] = SIDES.map((side) => toothLight(card, side, from, to));
    return Math.max(1e-4, Math.hypot(left - right, up - down));
  };
  return bendBy(contrast(...UPPER) / contrast(...LOWER));
}

/** Mean light of a part of all teeth of a patch: from where they begin, 0, to where they end, 1. */
function toothLight(card: SampledCard, side: Side, from: number, to: number): number {
  const sums = Array.from({ length: TEETH }, (_, tooth) => {
    const [a, b] = [(tooth + from) / TEETH, (tooth + to) / TEETH];
    const along = side === "right" || side === "down" ? [a, b] : [1 - b, 1 - a];
    const across = { left: 0.15, right: 0.85, top: 0.15, bottom: 0.85 };
    const part =
      side === "left" || side === "right"
        ? { ...across, left: along[0], right: along[1] }
        : { ...across, top: along[0], bottom: along[1] };
    return luminance(meanOf(card.read(`slope ${side}`, part)));
  });
  return sums.reduce((sum, light) => sum + light, 0) / TEETH;
}
