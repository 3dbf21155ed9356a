import { MARK_RADII } from "#core/card/layout";
import type { Point } from "#core/gauge/repeat";
import type { Raster } from "#core/raster/raster";

/** A mark of a card as it lies in a picture. */
export interface FoundMark {
  at: Point;
  /** Of its core, in pixels. */
  radius: number;
  heart: "ring" | "dot" | "plain";
}

/** Sides of the neighbourhoods that light and dark are told apart in, as shares of the shorter side: marks may be large or small. */
const NEIGHBOURHOODS = [1 / 6, 1 / 12, 1 / 24, 1 / 40];
/** Dark is what has less than this of the code around it. */
const DARK = 0.74;
const RAYS = 24;
/** So many of them must meet the rings where they are. */
const LEAST_RAYS = 18;
/** By how much a ring may lie elsewhere, as a part of where it should be. */
const ASLANT = 0.22;
const LEAST_RADIUS = 2.5;

/** Every mark in a picture, each once. @param picture encoded sRGB, 8 or 16 bits */
export function findMarks(picture: Raster): FoundMark[] {
  const light = brightness(picture);
  const sums = integral(light, picture.width, picture.height);
  const found: FoundMark[] = [];
  for (const share of NEIGHBOURHOODS) {
    const half = Math.max(4, Math.round((share * Math.min(picture.width, picture.height)) / 2));
    const dark = darkPixels(light, sums, picture, half);
    for (const blob of blobsOf(dark, picture.width, picture.height)) {
      const mark = markAt(dark, blob, picture);
      if (mark && !found.some(({ at, radius }) => distance(at, mark.at) < radius)) found.push(mark);
    }
  }
  return found;
}

const distance = (a: Point, b: Point) => Math.hypot(a.x - b.x, a.y - b.y);

/** By codes, which are about as far from each other as they look: a bright ground beside a dim card weighs less than by its light. */
function brightness({ width, height, channels, data }: Raster): Float32Array {
  const out = new Float32Array(width * height);
  for (let at = 0; at < out.length; at++) {
    const from = at * channels;
    out[at] =
      channels < 3 ? data[from] : 0.2126 * data[from] + 0.7152 * data[from + 1] + 0.0722 * data[from + 2];
  }
  return out;
}

/** Sums of all above and to the left, with a border of zeros. */
function integral(values: Float32Array, width: number, height: number): Float64Array {
  const sums = new Float64Array((width + 1) * (height + 1));
  for (let y = 0; y < height; y++) {
    let row = 0;
    for (let x = 0; x < width; x++) {
      row += values[y * width + x];
      sums[(y + 1) * (width + 1) + x + 1] = sums[y * (width + 1) + x + 1] + row;
    }
  }
  return sums;
}

function darkPixels(
  light: Float32Array,
  sums: Float64Array,
  { width, height }: Raster,
  half: number,
): Uint8Array {
  const dark = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const [top, bottom] = [Math.max(0, y - half), Math.min(height, y + half + 1)];
    for (let x = 0; x < width; x++) {
      const [left, right] = [Math.max(0, x - half), Math.min(width, x + half + 1)];
      const sum =
        sums[bottom * (width + 1) + right] -
        sums[top * (width + 1) + right] -
        sums[bottom * (width + 1) + left] +
        sums[top * (width + 1) + left];
      dark[y * width + x] = Number(light[y * width + x] * (bottom - top) * (right - left) < DARK * sum);
    }
  }
  return dark;
}

interface Blob {
  at: Point;
  pixels: Set<number>;
}

/** Dark pixels that hang together, as long as they may be the core of a mark: about as wide as high, and not the whole picture. */
function blobsOf(dark: Uint8Array, width: number, height: number): Blob[] {
  const seen = new Uint8Array(dark.length);
  const most = (Math.min(width, height) / 6) ** 2;
  const stack: number[] = [];
  const blobs: Blob[] = [];
  for (let start = 0; start < dark.length; start++) {
    if (!dark[start] || seen[start]) continue;
    const pixels: number[] = [];
    let [left, right, top, bottom, sumX, sumY] = [width, 0, height, 0, 0, 0];
    stack.push(start);
    seen[start] = 1;
    while (stack.length > 0) {
      const at = stack.pop()!;
      const [x, y] = [at % width, Math.floor(at / width)];
      pixels.push(at);
      sumX += x;
      sumY += y;
      left = Math.min(left, x);
      right = Math.max(right, x);
      top = Math.min(top, y);
      bottom = Math.max(bottom, y);
      for (const [next, isThere] of [
        [at - 1, x > 0],
        [at + 1, x < width - 1],
        [at - width, y > 0],
        [at + width, y < height - 1],
      ] as const)
        if (isThere && dark[next] && !seen[next]) {
          seen[next] = 1;
          stack.push(next);
        }
    }
    const [wide, high] = [right - left + 1, bottom - top + 1];
    if (pixels.length < 12 || pixels.length > most || Math.max(wide, high) > 3.5 * Math.min(wide, high))
      continue;
    blobs.push({
      at: { x: sumX / pixels.length + 0.5, y: sumY / pixels.length + 0.5 },
      pixels: new Set(pixels),
    });
  }
  return blobs;
}

const LIGHT_RATIO = MARK_RADII.light / MARK_RADII.core;
const DARK_RATIO = MARK_RADII.dark / MARK_RADII.core;

/** The mark whose core a blob is, if light and dark rings lie around it in the proportions of one. */
function markAt(dark: Uint8Array, { at, pixels }: Blob, { width, height }: Raster): FoundMark | undefined {
  const indexAt = (far: number, angle: number) => {
    const [x, y] = [Math.floor(at.x + far * Math.cos(angle)), Math.floor(at.y + far * Math.sin(angle))];
    return x < 0 || y < 0 || x >= width || y >= height ? -1 : y * width + x;
  };
  const radii: number[] = [];
  const most = Math.min(width, height) / 8;
  for (let ray = 0; ray < RAYS; ray++) {
    const angle = (ray / RAYS) * 2 * Math.PI;
    let core = 0;
    for (let far = 0; far < most; far += 0.5) if (pixels.has(indexAt(far, angle))) core = far + 0.25;
    if (core < LEAST_RADIUS) continue;
    let light = core;
    while (light < most && !isDarkAt(light + 0.25)) light += 0.5;
    let end = light;
    while (end < most && isDarkAt(end + 0.25)) end += 0.5;
    if (isNear(light / core, LIGHT_RATIO) && isNear(end / core, DARK_RATIO)) radii.push(core);

    function isDarkAt(far: number): boolean {
      const index = indexAt(far, angle);
      return index >= 0 && dark[index] === 1;
    }
  }
  if (radii.length < LEAST_RAYS) return undefined;
  const radius = radii.reduce((sum, one) => sum + one, 0) / radii.length;
  let mid = 0;
  for (let ray = 0; ray < RAYS; ray++) {
    const index = indexAt(radius * 0.5, (ray / RAYS) * 2 * Math.PI);
    mid += index >= 0 ? 1 - dark[index] : 0;
  }
  const centre = indexAt(0, 0);
  const isHearted = mid > RAYS / 2;
  return { at, radius, heart: !isHearted ? "plain" : dark[centre] ? "ring" : "dot" };
}

const isNear = (ratio: number, wanted: number) => Math.abs(ratio / wanted - 1) < ASLANT;
