import { lightOf } from "#core/card/cardFigures";
import { spreadOf } from "#core/card/lampFit";
import { SIDES, slopeId, TEETH, type Side, type TeethName } from "#core/card/layout";
import { DECODINGS, SAW_PARTS, sawNormal, type Decoding, type Meant } from "#core/card/saw";
import { leanOf, type Lean, type Tilts } from "#core/card/tilts";
import { meanOf, type SampledCard } from "#core/card/sampleCard";
import { errorAlone, errorBy, weighed, weighedTilts, type SeenSlopes } from "#core/card/slopeFit";
import { luminance } from "#core/shade/rgb";

/** What the saw teeth of the height say. */
export interface Relief {
  isThere: boolean;
  /** How far the four sides of those teeth lie apart of which they do most. */
  spread: number;
  /** What the light that normals found would make of slopes as they were asked for; null where no normals tell of it. */
  expectedSpread: number | null;
  /** 1 where white stands out, −1 where it goes in, 0 where normals do not tell. */
  out: 1 | -1 | 0;
  /** Which way green points by it, 1 up or −1 down, and how much better that fits than the contrary. */
  green: { sign: number; by: number };
  /** To where slopes that fall are light. */
  lean: Lean;
  /** How many times as high as was asked for heights come out: what fits best, and between what it may be; null where that cannot be told. */
  times: { least: number; best: number; most: number } | null;
  /** How far from the light that slopes so steep would have, in shares of what is usually left unexplained. */
  misfit: number;
  /** How much better the slopes fit where codes are decoded than where they are taken as they are, as a logarithm. */
  decoded: number;
}

/** How much one explanation has to be better than its contrary. */
const BETTER = 1.4;
/** Nearer together than this, slopes are all the same. */
const LEAST_SPREAD = 0.035;

/** Whether slopes may be so much steeper than asked for that a bump is a cliff, which has no highlight. */
export const mayBeSteep = ({ isThere, spread, times }: Relief): boolean =>
  isThere && (times ? times.best > 2.5 : spread > 1.2);

/** Whether slopes show enough to be believed against where the lamp was asked for. */
export const isAgainstLamp = ({ spread, green }: Pick<Relief, "spread" | "green">): boolean =>
  spread > 0.3 && green.by > 3;

const TIMES = Array.from({ length: 27 }, (_, step) => 0.03 * 1.33 ** step);

/** @param asked from where the lamp shines if it stands where it was asked for */
export function reliefOf(card: SampledCard, tilts: Tilts, asked: Lean): Relief {
  const seen = SAW_PARTS.map(({ teeth, from, to }) =>
    SIDES.map((side) => toothLight(card, teeth, side, from, to)),
  );
  const rest = lightOf(card, "level");
  const spread = Math.max(...seen.map(spreadOf));
  const lean = leanOf(
    seen.reduce(([x, y], [left, right, up, down]) => [x + right - left, y + up - down], [0, 0]),
  );
  const base: Relief = {
    isThere: spread > LEAST_SPREAD,
    spread,
    expectedSpread: tilts.isThere ? expectedSpread(tilts) : null,
    out: 0,
    green: { sign: 1, by: 1 },
    lean,
    times: null,
    misfit: Infinity,
    decoded: 0,
  };
  if (!base.isThere) return base;
  const lightest = tilts.isThere ? Math.max(...tilts.leanings.map(({ light }) => light)) : Infinity;
  const slopes = weighed(seen, rest, lightest);
  if (!tilts.isThere) return { ...base, ...explainedAlone(slopes, rest) };
  // Every way that it may be meant, and how well the light that normals found explains it then.
  const leaning = weighedTilts(tilts, rest);
  const ways = WAYS.map((way) => ({ ...way, error: errorBy(slopes, leaning, way) }));
  // What differs, but not as slopes do, are none: the card is lit unevenly.
  if (errorBy(slopes, leaning, FLAT) < BETTER * Math.min(...ways.map((way) => way.error)))
    return { ...base, isThere: false };
  const least = (of: typeof ways) => Math.min(...of.map((way) => way.error));
  const by = (a: number, b: number) => Math.max(a, b) / Math.min(a, b);
  const [greenUp, greenDown] = [1, -1].map((sign) => least(ways.filter((way) => way.green === sign)));
  const green = { sign: greenUp < greenDown ? 1 : -1, by: by(greenUp, greenDown) };
  // A lamp that stands straight above or straight to a side leaves it open: then it stands where it was asked for.
  const likely = isAgainstLamp({ spread, green }) ? green.sign : Math.sign(tilts.lean.y * asked.y) || 1;
  const fitting = ways.filter((way) => way.green === likely);
  const [plus, minus] = [1, -1].map((sign) => least(fitting.filter((way) => Math.sign(way.amount) === sign)));
  if (by(plus, minus) < BETTER) return { ...base, green };
  const out = plus < minus ? 1 : -1;
  return { ...base, out, green, ...explained(fitting.filter((way) => Math.sign(way.amount) === out)) };
}

const WAYS: readonly Meant[] = [false, true].flatMap((isCast) =>
  DECODINGS.flatMap((decoding) =>
    TIMES.flatMap((times) =>
      [1, -1].flatMap((green) => [1, -1].map((out) => ({ decoding, amount: out * times, green, isCast }))),
    ),
  ),
);
/** Without normals there is no green; and without shadows, what goes in looks as what stands out does under a lamp from the other side. */
const WAYS_ALONE = WAYS.filter(({ green, amount, isCast }) => green === 1 && (isCast || amount > 0));

const FLAT: Meant = { decoding: "raw", amount: 0, green: 1, isCast: false };

interface Way extends Meant {
  error: number;
}

/** How much farther than what fits best something may be for it to be possible, too; more where nothing fits well. */
const possibleBeyond = (best: number) => 0.15 + 0.1 * best;

function explained(ways: readonly Way[]): Pick<Relief, "times" | "misfit" | "decoded"> {
  const best = ways.reduce((a, b) => (b.error < a.error ? b : a));
  const least = (decoding: Decoding) =>
    Math.min(...ways.filter((way) => way.decoding === decoding).map((way) => way.error));
  const possible = ways
    .filter(({ error }) => error < best.error + possibleBeyond(best.error))
    .map(({ amount }) => Math.abs(amount));
  return {
    times: { least: Math.min(...possible), best: Math.abs(best.amount), most: Math.max(...possible) },
    misfit: best.error,
    decoded: Math.log(least("raw") / least("decoded")),
  };
}

/** The same where no normals tell of the light. */
function explainedAlone(
  slopes: SeenSlopes,
  rest: number,
): Pick<Relief, "times" | "misfit" | "decoded" | "lean"> {
  const ways = WAYS_ALONE.map((way) => ({ ...way, ...errorAlone(slopes, rest, way) }));
  const { lamp, amount } = ways.reduce((a, b) => (b.error < a.error ? b : a));
  return { ...explained(ways), lean: leanOf(lamp.map((part) => part * Math.sign(amount))) };
}

const expectedSpread = ({ best, atRest }: Tilts): number =>
  Math.min(
    ...[1, -1].flatMap((amount) =>
      [1, -1].map((green) =>
        Math.max(
          ...SAW_PARTS.map((part) =>
            spreadOf(
              SIDES.map((side) =>
                best.seen(sawNormal(part, side, { decoding: "raw", amount, green, isCast: false }, atRest)),
              ),
            ),
          ),
        ),
      ),
    ),
  );

/** Mean light of a part of all teeth of a patch. */
function toothLight(card: SampledCard, teeth: TeethName, side: Side, from: number, to: number): number {
  const { count } = TEETH[teeth];
  const sums = Array.from({ length: count }, (_, tooth) => {
    const [a, b] = [(tooth + from) / count, (tooth + to) / count];
    const along = side === "right" || side === "down" ? [a, b] : [1 - b, 1 - a];
    const across = { left: 0.15, right: 0.85, top: 0.15, bottom: 0.85 };
    const part =
      side === "left" || side === "right"
        ? { ...across, left: along[0], right: along[1] }
        : { ...across, top: along[0], bottom: along[1] };
    return luminance(meanOf(card.read(slopeId(teeth, side), part)));
  });
  return sums.reduce((sum, light) => sum + light, 0) / count;
}
