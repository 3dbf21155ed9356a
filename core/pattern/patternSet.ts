import { createRaster, type Raster } from "#core/raster/raster";
import { hexToLinear, linearToSrgb } from "#core/raster/srgb";
import { normalFromHeight } from "#core/relief/normalFromHeight";
import { modulo } from "#core/pattern/noise";

/** The maps of a made-up material; they belong together to the pixel. */
export interface PatternSet {
  /** Real size of the repeat, in millimetres. */
  repeat: { width: number; height: number };
  /** Millimetres between height 0 and height 1; the middle is 0.5. */
  heightAmplitudeMm: number;
  base_color: Raster;
  geometry_normal: Raster;
  height: Raster;
  specular_roughness: Raster;
  ambient_occlusion: Raster;
}

/** One point of a surface: linear colour, height in millimetres (0 is the face), perceptual roughness. */
export interface SurfacePoint {
  color: [number, number, number];
  heightMm: number;
  roughness: number;
}

/** A surface over its repeat: u and v run 0..1 to the right and down, and it must be periodic in both. */
export type Surface = (u: number, v: number) => SurfacePoint;

export interface PatternSize {
  repeat: { width: number; height: number };
  widthPx: number;
  heightPx: number;
}

/** Samples a surface and derives normal and ambient occlusion from its height, wrapping at the edges. */
export function renderPattern(surface: Surface, size: PatternSize): PatternSet {
  const { widthPx: w, heightPx: h } = size;
  const heights = new Float32Array(w * h);
  const base = createRaster(w, h, 3, 8);
  const rough = createRaster(w, h, 1, 8);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const point = surface((x + 0.5) / w, (y + 0.5) / h);
      heights[i] = point.heightMm;
      for (let c = 0; c < 3; c++) base.data[i * 3 + c] = ENCODED[Math.round(clamp(point.color[c]) * 4095)];
      rough.data[i] = Math.round(clamp(point.roughness) * 255);
    }
  const { raster: height, amplitude } = quantiseHeight(heights, w, h);
  return {
    repeat: size.repeat,
    heightAmplitudeMm: amplitude,
    base_color: base,
    geometry_normal: normalFromHeight({ width: w, height: h, data: heights }, size.repeat),
    height,
    specular_roughness: rough,
    ambient_occlusion: occlusionFromHeight(heights, size),
  };
}

/** sRGB codes for 4096 steps of linear light. */
const ENCODED = Uint8Array.from({ length: 4096 }, (_, v) => Math.round(linearToSrgb(v / 4095) * 255));

/** Three linear values from `#rrggbb`. */
export const linear = hexToLinear;

export function mix(
  a: [number, number, number],
  b: [number, number, number],
  t: number,
): [number, number, number] {
  return [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t, a[2] + (b[2] - a[2]) * t];
}

export function scaled(color: [number, number, number], factor: number): [number, number, number] {
  return [color[0] * factor, color[1] * factor, color[2] * factor];
}

const clamp = (v: number) => Math.min(1, Math.max(0, v));

function quantiseHeight(heights: Float32Array, w: number, h: number): { raster: Raster; amplitude: number } {
  let low = Infinity;
  let high = -Infinity;
  for (const v of heights) {
    if (v < low) low = v;
    if (v > high) high = v;
  }
  const amplitude = Math.max(0.1, Math.ceil((high - low) * 10) / 10);
  const raster = createRaster(w, h, 1, 16);
  for (let i = 0; i < heights.length; i++)
    raster.data[i] = Math.round(((heights[i] - low) / amplitude) * 65535);
  return { raster, amplitude };
}

/** How far a point lies below its surroundings, over three radii: a cheap stand-in for the sky it sees. */
function occlusionFromHeight(
  heights: Float32Array,
  { widthPx: w, heightPx: h, repeat }: PatternSize,
): Raster {
  const out = createRaster(w, h, 1, 8);
  const open = new Float32Array(w * h).fill(1);
  for (const radiusMm of [1.5, 4, 12]) {
    const radius = Math.max(1, Math.round((radiusMm / repeat.width) * w));
    const mean = boxBlur(boxBlur(heights, w, h, radius), w, h, radius);
    for (let i = 0; i < open.length; i++)
      open[i] *= 1 / (1 + (1.1 * Math.max(0, mean[i] - heights[i])) / radiusMm);
  }
  for (let i = 0; i < open.length; i++) out.data[i] = Math.round(open[i] * 255);
  return out;
}

function boxBlur(values: Float32Array, w: number, h: number, radius: number): Float32Array {
  const pass = (from: Float32Array, count: number, lines: number, step: number, stride: number) => {
    const out = new Float32Array(from.length);
    const r = Math.min(radius, (count - 1) >> 1);
    // One line, continued at both ends by what lies at its other side.
    const padded = new Float32Array(count + 2 * r + 1);
    for (let line = 0; line < lines; line++) {
      const start = line * stride;
      for (let k = 0; k < padded.length; k++) padded[k] = from[start + modulo(k - r, count) * step];
      let sum = 0;
      for (let k = 0; k <= 2 * r; k++) sum += padded[k];
      for (let k = 0; k < count; k++) {
        out[start + k * step] = sum / (2 * r + 1);
        sum += padded[k + 2 * r + 1] - padded[k];
      }
    }
    return out;
  };
  return pass(pass(values, w, h, 1, w), h, w, w, 1);
}
