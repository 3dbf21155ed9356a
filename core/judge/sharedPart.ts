import { tintBetween, withoutBands, type Likeness, type Part } from "#core/judge/likeness";
import { blurred } from "#core/raster/blurred";
import { forward, inverse, type Spectrum } from "#core/raster/fft";
import { correlation, lumaOf, meanOf, resample, type Plane } from "#core/raster/plane";
import type { Raster } from "#core/raster/raster";

/** A picture by its square reduction, and the pixels that it has itself. */
export interface Reduced {
  small: Raster;
  width: number;
  height: number;
}

/** From this correlation on, what two pictures share is the same piece of surface; lettering or dirt alone is below. */
export const SAME_SURFACE = 0.7;
/** So much of both is all of both. */
const WHOLE = 0.97;

const SIDE = 128;
/** Cycles a side that are compared: slower ones are light and shade, faster ones are left of the encoder. */
const SLOWEST = 2;
const FASTEST = 48;
/** So many times above the spread of all places, one of them is no chance: unrelated pictures stay under 12, related ones come over 17. */
const STANDS_OUT = 14;
/** So far from the best place, in samples, it is still the same one. */
const PEAK = 2;
/** In walls of one lattice another place is nearly as good; where one picture shows the other, none comes near the best. */
const NEXT_BEST = 0.4;
/** Less than this share of the smaller picture proves nothing. */
const LEAST_SHARED = 0.25;
const LEAST_SIDE = 12;
/** Joints of one lattice are alike between all walls: three quarters of all blocks of so many samples have to be alike, faces too. */
const BLOCK = 10;
const LEAST_OF_BLOCKS = 0.68;

/**
 * How alike two pictures of one scale are in the part that they share where one was cropped from the other, or mended after: found by
 * the phases of their frequencies, in which joints that return at even distances weigh no more than what happens once. Undefined where
 * no place stands out, or where nothing but a lattice is alike.
 * Source: Kuglin and Hines, The phase correlation image alignment method, 1975.
 */
export function sharedPart(first: Reduced, second: Reduced): Likeness | undefined {
  const density = SIDE / Math.max(first.width, first.height, second.width, second.height);
  const [a, b] = [atDensity(first, density), atDensity(second, density)];
  if (!a || !b) return undefined;
  const { x, y, standsOut, nextBest } = shiftOf(forward(inSquare(a, true)), forward(inSquare(b, true)));
  if (standsOut < STANDS_OUT || nextBest > NEXT_BEST) return undefined;
  // The second lies at (x, y) on the first.
  const [left, top] = [Math.max(0, x), Math.max(0, y)];
  const [width, height] = [Math.min(a.width, x + b.width) - left, Math.min(a.height, y + b.height) - top];
  const smaller = Math.min(a.width * a.height, b.width * b.height);
  if (Math.min(width, height) < LEAST_SIDE || width * height < LEAST_SHARED * smaller) return undefined;
  const own = cut(evened(a), left, top, width, height);
  const other = cut(evened(b), left - x, top - y, width, height);
  if (lowerQuartile(blockCorrelations(own, other)) < LEAST_OF_BLOCKS) return undefined;
  const shares = (plane: Plane, left: number, top: number): Part => ({
    left: left / plane.width,
    top: top / plane.height,
    width: width / plane.width,
    height: height / plane.height,
  });
  const parts = { first: shares(a, left, top), second: shares(b, left - x, top - y) };
  return {
    alike: Math.min(correlation(own, other), withoutBands(own, other)),
    mirrored: false,
    turns: 0,
    shiftX: 0,
    shiftY: 0,
    tint: tintBetween(first.small, second.small),
    ...(Object.values(parts).every(isWhole) ? {} : { parts }),
  };
}

const isWhole = ({ width, height }: Part) => Math.min(width, height) >= WHOLE;

/** Undefined where too little of it is left at that scale. */
function atDensity({ small, width, height }: Reduced, density: number): Plane | undefined {
  const [across, down] = [Math.round(width * density), Math.round(height * density)];
  return Math.min(across, down) < LEAST_SIDE ? undefined : resample(lumaOf(small), across, down);
}

/** Slow light and shade, which a mend evens out, taken away; softened, so that a shift by half a sample does not hide what is alike. */
function evened(plane: Plane): Plane {
  const square = inSquare(plane, false);
  const [soft, slow] = [blurred(square, 1), blurred(square, SIDE / 12)];
  return { ...square, data: soft.data.map((v, i) => v - slow.data[i]) };
}

/** In the corner of a square of zeros; where edges are faded out, they are no structure of their own. */
function inSquare(plane: Plane, isFaded: boolean): Plane {
  const { width, height } = plane;
  const mean = meanOf(plane);
  const data = new Float32Array(SIDE * SIDE);
  const share = (at: number, side: number) =>
    isFaded ? Math.min(1, (8 * Math.min(at + 0.5, side - at - 0.5)) / side) : 1;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      data[y * SIDE + x] = (plane.data[y * width + x] - mean) * share(x, width) * share(y, height);
  return { width: SIDE, height: SIDE, data };
}

function blockCorrelations(a: Plane, b: Plane): number[] {
  const found: number[] = [];
  for (let y = 0; y + BLOCK <= a.height; y += BLOCK)
    for (let x = 0; x + BLOCK <= a.width; x += BLOCK)
      found.push(correlation(cut(a, x, y, BLOCK, BLOCK), cut(b, x, y, BLOCK, BLOCK)));
  return found;
}

const lowerQuartile = (values: number[]) => values.toSorted((a, b) => a - b)[Math.floor(values.length / 4)];

/** Where the second lies on the first, how far this place stands out from all, and the best one away from it, as a share of it. */
function shiftOf(a: Spectrum, b: Spectrum) {
  const data = new Float64Array(a.data.length);
  for (let v = 0; v < SIDE; v++)
    for (let u = 0; u < SIDE; u++) {
      const cycles = Math.hypot(signed(u), signed(v));
      if (cycles < SLOWEST || cycles > FASTEST) continue;
      const i = (v * SIDE + u) * 2;
      const re = a.data[i] * b.data[i] + a.data[i + 1] * b.data[i + 1];
      const im = a.data[i + 1] * b.data[i] - a.data[i] * b.data[i + 1];
      const weight = Math.exp(-1.5 * (cycles / FASTEST) ** 2) / (Math.hypot(re, im) + 1e-9);
      data[i] = re * weight;
      data[i + 1] = im * weight;
    }
  const surface = inverse({ width: SIDE, height: SIDE, data }).data;
  let [best, squares] = [0, 0];
  for (let i = 0; i < surface.length; i++) {
    squares += surface[i] ** 2;
    if (surface[i] > surface[best]) best = i;
  }
  const [x, y] = [best % SIDE, Math.floor(best / SIDE)];
  const away = (a: number, b: number) => Math.abs(signed((a - b + SIDE) % SIDE));
  let next = 0;
  for (let i = 0; i < surface.length; i++)
    if (surface[i] > next && Math.max(away(i % SIDE, x), away(Math.floor(i / SIDE), y)) > PEAK)
      next = surface[i];
  return {
    x: signed(x),
    y: signed(y),
    standsOut: surface[best] / Math.sqrt(squares / surface.length + 1e-12),
    nextBest: next / (surface[best] + 1e-12),
  };
}

const signed = (at: number) => (at > SIDE / 2 ? at - SIDE : at);

function cut(plane: Plane, left: number, top: number, width: number, height: number): Plane {
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    data.set(
      plane.data.subarray((top + y) * plane.width + left, (top + y) * plane.width + left + width),
      y * width,
    );
  return { width, height, data };
}
