import type { Plane } from "#core/raster/plane";

/** Rows or columns that are equally high or wide all through a repeating picture. */
export interface Stripes {
  count: number;
  /** By how many standard deviations the joints stand out, for a picture of 512 px; noise comes to about 5. */
  strength: number;
  /** Whether changes of lightness and dark or light lines say the same. */
  agreed: boolean;
}

/** Blocks of a JPEG are 8 px wide, and no rows. */
const BLOCK = 8;
const MOST = 64;
/** A row has at least so many pixels. */
const LEAST_PX = 10;
/** A count twice as large that stands out nearly as much is the true one: of a wrong one half would miss the joints. */
const DOUBLED = 0.85;
/** Neighbours on either side whose middle is the usual change at a place. */
const NEAR = 24;
/** Values above so many times the mean one are cut, so that one board cannot decide. */
const CUT = 7;

/**
 * Rows (or columns) by the means over all columns: their joints stand out at equal distances, as edges and as lines that are
 * darker or lighter than both sides.
 * @param joints what changes across lines that run along the rows, at the size of the plane
 * @param plane the picture itself
 * @param pixels of the original in the direction in which rows are counted
 */
export function findStripes(
  joints: Plane,
  plane: Plane,
  direction: "across" | "down",
  pixels: number,
): Stripes {
  const side = direction === "down" ? plane.height : plane.width;
  const edges = leveled(meansOf(joints, direction));
  const means = meansOf(plane, direction);
  // A joint is about a pixel wide, and a picture is never sharper than that.
  const reach = Math.max(2, Math.round((1.6 * side) / pixels));
  const dark = means.map(
    (value, i) => (means[(i - reach + side) % side] + means[(i + reach) % side]) / 2 - value,
  );
  const most = Math.min(MOST, Math.floor(pixels / LEAST_PX));
  const [byEdge, byDark, byLight] = [edges, dark, dark.map((v) => -v)].map((profile) =>
    combs(cleaned(profile, pixels, reach), most),
  );
  const isBlocks = (count: number) => {
    const blocks = pixels / count / BLOCK;
    return blocks <= 2.01 && Math.abs(blocks - Math.round(blocks)) < 0.01;
  };
  const line = byEdge.map((_, count) => Math.max(byDark[count], byLight[count]));
  const best = (scores: number[]) =>
    scores.reduce((top, score, count) => (!isBlocks(count) && score > scores[top] ? count : top), 0);
  const both = byEdge.map((score, count) => (score + line[count]) / 2);
  // Half as many are all joints as well, and win where every second one is stronger.
  let count = best(both);
  while (count > 0 && both[2 * count] >= DOUBLED * both[count]) count *= 2;
  return {
    count,
    strength: Math.max(0, both[count]) * Math.sqrt(512 / Math.min(512, pixels)),
    agreed: count > 0 && [byEdge, line].every((scores) => best(scores) === count),
  };
}

function meansOf({ width, height, data }: Plane, direction: "across" | "down"): Float32Array {
  const isDown = direction === "down";
  const out = new Float32Array(isDown ? height : width);
  const share = 1 / (isDown ? width : height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) out[isDown ? y : x] += data[i] * share;
  return out;
}

/** Without the slow changes: less the middle one of its surroundings. */
function leveled(profile: Float32Array): Float32Array {
  const side = profile.length;
  const around = new Float32Array(2 * NEAR + 1);
  return profile.map((value, i) => {
    for (let k = -NEAR; k <= NEAR; k++) around[k + NEAR] = profile[(i + k + side) % side];
    return value - around.sort()[NEAR];
  });
}

/** Without what comes at every block of a JPEG, and with what is out of all proportion cut. */
function cleaned(profile: Float32Array, pixels: number, reach: number): Float32Array {
  const side = profile.length;
  const out = profile.slice();
  const step = (side * BLOCK) / pixels;
  const half = side / pixels / 2;
  for (let off = -reach - 1; off <= reach + 1; off++) {
    const places: number[] = [];
    for (let at = 0; at < side - half; at += step) places.push((Math.round(at - half) + off + side) % side);
    const usual = places.map((i) => out[i]).sort((a, b) => a - b)[places.length >> 1];
    for (const i of places) out[i] -= usual;
  }
  const limit = (CUT / side) * out.reduce((sum, v) => sum + Math.abs(v), 0);
  return out.map((v) => Math.max(-limit, Math.min(limit, v)));
}

/** For each count, how far the best comb of so many equal distances stands above the mean, in its standard deviations. */
function combs(profile: Float32Array, most: number): number[] {
  const side = profile.length;
  const mean = profile.reduce((sum, v) => sum + v, 0) / side;
  const spread = Math.sqrt(profile.reduce((sum, v) => sum + (v - mean) ** 2, 0) / side);
  const scores = Array<number>(Math.max(2, most + 1)).fill(0);
  if (!(spread > 1e-9)) return scores;
  const between = (i: number, part: number) =>
    (1 - part) * profile[(i + side) % side] + part * profile[(i + 1 + side) % side];
  for (let count = 2; count <= most; count++) {
    const pitch = side / count;
    let best = -Infinity;
    for (let start = 0; start < pitch; start += 0.5) {
      let sum = 0;
      for (let k = 0; k < count; k++) {
        const at = start + k * pitch;
        const i = Math.floor(at);
        // A joint may lie a sample beside its place.
        sum += Math.max(between(i - 1, at - i), between(i, at - i), between(i + 1, at - i));
      }
      best = Math.max(best, sum / count);
    }
    scores[count] = ((best - mean) / spread) * Math.sqrt(count);
  }
  return scores;
}
