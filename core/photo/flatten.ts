import type { Point } from "#core/gauge/repeat";
import type { Repeat } from "#core/length/repeat";
import { flatSize, flattening, type Quality, type Region } from "#core/photo/region";
import { catmullRom } from "#core/raster/cubic";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { linearTable, linearToSrgb } from "#core/raster/srgb";

/**
 * Something that stands in front, painted out: a rectangle on the region, in mm, filled with what lies elsewhere on the
 * same region, or with another material at its real size.
 */
export interface Patch {
  x: number;
  y: number;
  width: number;
  height: number;
  /** Where it is taken from, mm to the right and down. */
  shift: Point;
  /** In place of the photograph itself. */
  fill?: { raster: Raster; repeat: Repeat };
}

/** A region as it would look from straight ahead. */
export interface Flat {
  raster: Raster;
  /** The part of the region that the photograph shows whole, in mm from its top left corner. */
  window: { x: number; y: number; width: number; height: number };
}

/** Samples over which it is found what the photograph covers. */
const COVER_STEPS = 200;
/** A patch fades into its surroundings over this part of its smaller side. */
const FEATHER = 0.12;
/** Most samples for one pixel in one direction. */
const MOST_TAPS = 8;

/**
 * Flattens a region of a photograph. Each pixel gathers the light of the area that it covers in the photograph, in linear
 * light; where the photograph is coarser than the result, it is interpolated cubically (Catmull and Rom 1974).
 * @param photo encoded sRGB, 8 or 16 bits, 1 to 4 channels; the result has 3 and the same bits
 * @param told called with the share that is done
 * @throws {RegionError} where the region cannot be flattened or lies outside the photograph
 */
export function flatten(
  photo: Raster,
  region: Region,
  quality: Quality,
  patches: Patch[] = [],
  told?: (share: number) => void,
): Flat {
  const { toPhoto } = flattening(region, photo);
  const whole = flatSize(region, photo, quality);
  const [mmX, mmY] = [region.width / whole.width, region.height / whole.height];
  const px = coveredWindow(photo, toPhoto, region, whole);
  const out = createRaster(px.width, px.height, 3, photo.bitDepth);
  const table = linearTable(photo.bitDepth);
  const most = maxValue(photo);
  const light = new Float64Array(3);
  const over = new Float64Array(3);
  for (let y = 0; y < px.height; y++) {
    for (let x = 0; x < px.width; x++) {
      const real = { x: (px.x + x + 0.5) * mmX, y: (px.y + y + 0.5) * mmY };
      gather(photo, table, toPhoto, real, mmX, mmY, light);
      for (const patch of patches) {
        const weight = weightIn(patch, real);
        if (weight === 0) continue;
        const from = { x: real.x + patch.shift.x, y: real.y + patch.shift.y };
        if (patch.fill) tile(patch.fill, from, mmX, mmY, over);
        else gather(photo, table, toPhoto, from, mmX, mmY, over);
        for (let c = 0; c < 3; c++) light[c] += weight * (over[c] - light[c]);
      }
      const at = 3 * (y * px.width + x);
      for (let c = 0; c < 3; c++)
        out.data[at + c] = Math.round(most * linearToSrgb(Math.min(1, Math.max(0, light[c]))));
    }
    if (y % 64 === 63) told?.((y + 1) / px.height);
  }
  return {
    raster: out,
    window: { x: px.x * mmX, y: px.y * mmY, width: px.width * mmX, height: px.height * mmY },
  };
}

/** The largest window, in pixels of the whole, that is cut off where the photograph ends: the worst edge moves in first. */
function coveredWindow(
  photo: Raster,
  toPhoto: (real: Point) => Point,
  region: Region,
  whole: { width: number; height: number },
) {
  const covered = (i: number, j: number) => {
    const { x, y } = toPhoto({ x: (i / COVER_STEPS) * region.width, y: (j / COVER_STEPS) * region.height });
    // Half a pixel of doubt, so that a corner set right on the edge of the picture costs nothing.
    return x >= -0.5 && y >= -0.5 && x <= photo.width + 0.5 && y <= photo.height + 0.5;
  };
  let [left, top, right, bottom] = [0, 0, COVER_STEPS, COVER_STEPS];
  const missing = (fixed: "x" | "y", at: number) => {
    let count = 0;
    const [from, to] = fixed === "x" ? [top, bottom] : [left, right];
    for (let k = from; k <= to; k++) if (!(fixed === "x" ? covered(at, k) : covered(k, at))) count++;
    return count / (to - from + 1);
  };
  for (;;) {
    const edges = [missing("x", left), missing("x", right), missing("y", top), missing("y", bottom)];
    const worst = Math.max(...edges);
    if (worst === 0 || right - left < 2 || bottom - top < 2) break;
    if (edges[0] === worst) left++;
    else if (edges[1] === worst) right--;
    else if (edges[2] === worst) top++;
    else bottom--;
  }
  const [x, y] = [
    Math.ceil((left / COVER_STEPS) * whole.width),
    Math.ceil((top / COVER_STEPS) * whole.height),
  ];
  return {
    x,
    y,
    width: Math.max(1, Math.floor((right / COVER_STEPS) * whole.width) - x),
    height: Math.max(1, Math.floor((bottom / COVER_STEPS) * whole.height) - y),
  };
}

/** How much a patch covers at a place: 1 inside, fading to 0 at its rim. */
function weightIn(patch: Patch, { x, y }: Point): number {
  const [dx, dy] = [
    Math.min(x - patch.x, patch.x + patch.width - x),
    Math.min(y - patch.y, patch.y + patch.height - y),
  ];
  const inside = Math.min(dx, dy) / (FEATHER * Math.min(patch.width, patch.height));
  return Math.min(1, Math.max(0, inside));
}

/** Light over the area that a pixel around a real place covers in the photograph. */
function gather(
  photo: Raster,
  table: Float32Array,
  toPhoto: (real: Point) => Point,
  real: Point,
  mmX: number,
  mmY: number,
  light: Float64Array,
): void {
  const at = toPhoto(real);
  const right = toPhoto({ x: real.x + mmX, y: real.y });
  const below = toPhoto({ x: real.x, y: real.y + mmY });
  const [ax, ay, bx, by] = [right.x - at.x, right.y - at.y, below.x - at.x, below.y - at.y];
  const taps = (length: number) => Math.min(MOST_TAPS, Math.max(1, Math.ceil(length - 0.05)));
  const [across, down] = [taps(Math.hypot(ax, ay)), taps(Math.hypot(bx, by))];
  light.fill(0);
  if (across === 1 && down === 1) {
    cubic(photo, table, at.x - 0.5, at.y - 0.5, light);
    return;
  }
  const weight = 1 / (across * down);
  for (let j = 0; j < down; j++)
    for (let i = 0; i < across; i++) {
      const [u, v] = [(i + 0.5) / across - 0.5, (j + 0.5) / down - 0.5];
      linear(photo, table, at.x + u * ax + v * bx - 0.5, at.y + u * ay + v * by - 0.5, weight, light);
    }
}

const clamped = (value: number, size: number) => (value < 0 ? 0 : value >= size ? size - 1 : value);

function linear(
  photo: Raster,
  table: Float32Array,
  x: number,
  y: number,
  weight: number,
  light: Float64Array,
): void {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  for (let j = 0; j < 2; j++)
    for (let i = 0; i < 2; i++)
      add(photo, table, x0 + i, y0 + j, weight * (i ? fx : 1 - fx) * (j ? fy : 1 - fy), light);
}

function cubic(photo: Raster, table: Float32Array, x: number, y: number, light: Float64Array): void {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [wx, wy] = [catmullRom(x - x0), catmullRom(y - y0)];
  for (let j = 0; j < 4; j++)
    for (let i = 0; i < 4; i++) add(photo, table, x0 + i - 1, y0 + j - 1, wx[i] * wy[j], light);
}

function add(
  photo: Raster,
  table: Float32Array,
  x: number,
  y: number,
  weight: number,
  light: Float64Array,
): void {
  const { width, height, channels, data } = photo;
  const i = (clamped(y, height) * width + clamped(x, width)) * channels;
  for (let c = 0; c < 3; c++) light[c] += weight * table[data[channels < 3 ? i : i + c]];
}

/** Mean light of another material over one pixel, at its real size. */
function tile(
  { raster, repeat }: NonNullable<Patch["fill"]>,
  at: Point,
  mmX: number,
  mmY: number,
  light: Float64Array,
): void {
  const table = linearTable(raster.bitDepth);
  const { width, height, channels, data } = raster;
  const [perX, perY] = [width / repeat.width, height / repeat.height];
  const taps = (px: number) => Math.min(MOST_TAPS, Math.max(1, Math.ceil(px)));
  const [across, down] = [taps(mmX * perX), taps(mmY * perY)];
  light.fill(0);
  for (let j = 0; j < down; j++)
    for (let i = 0; i < across; i++) {
      const x = Math.floor((at.x + ((i + 0.5) / across - 0.5) * mmX) * perX);
      const y = Math.floor((at.y + ((j + 0.5) / down - 0.5) * mmY) * perY);
      const from = ((((y % height) + height) % height) * width + (((x % width) + width) % width)) * channels;
      for (let c = 0; c < 3; c++) light[c] += table[data[channels < 3 ? from : from + c]] / (across * down);
    }
}
