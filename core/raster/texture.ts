import { maxValue, type Raster } from "#core/raster/raster";
import { linearTable } from "#core/raster/srgb";

/** An image as numbers to be read between its pixels; colours in linear light, data 0..1. */
export interface Texture {
  width: number;
  height: number;
  channels: 1 | 3;
  data: Float32Array;
  /** Whether it continues at its other side. */
  wraps: boolean;
}

/**
 * Decodes an image, averaged over squares of pixels in the same pass.
 * @param reduce side of the squares in pixels; a rest at the edge goes into the last ones
 */
export function textureOf(
  raster: Raster,
  { holds, reduce = 1, wraps }: { holds: "color" | "data" | "vectors"; reduce?: number; wraps: boolean },
): Texture {
  const channels = holds === "data" ? 1 : 3;
  const most = maxValue(raster);
  const linear = holds === "color" ? linearTable(raster.bitDepth) : undefined;
  const value = linear ? (code: number) => linear[code] : (code: number) => code / most;
  const width = Math.max(1, Math.floor(raster.width / reduce));
  const height = Math.max(1, Math.floor(raster.height / reduce));
  const data = new Float32Array(width * height * channels);
  const { data: codes, channels: step } = raster;
  // Data in colour is read by its luminance, as a delivery does; an image of one channel stands for all three.
  const isLuma = holds === "data" && step >= 3;
  const offset = (channel: number) => (step < 3 ? 0 : channel);
  const read = (at: number, channel: number) =>
    isLuma
      ? 0.2126 * value(codes[at]) + 0.7152 * value(codes[at + 1]) + 0.0722 * value(codes[at + 2])
      : value(codes[at + offset(channel)]);
  for (let y = 0; y < height; y++) {
    const [top, bottom] = [
      Math.floor((y * raster.height) / height),
      Math.floor(((y + 1) * raster.height) / height),
    ];
    for (let x = 0; x < width; x++) {
      const [left, right] = [
        Math.floor((x * raster.width) / width),
        Math.floor(((x + 1) * raster.width) / width),
      ];
      const count = Math.max(1, (bottom - top) * (right - left));
      for (let channel = 0; channel < channels; channel++) {
        let sum = 0;
        for (let row = top; row < bottom; row++)
          for (let column = left; column < right; column++)
            sum += read((row * raster.width + column) * step, channel);
        data[(y * width + x) * channels + channel] = sum / count;
      }
    }
  }
  return { width, height, channels, data, wraps };
}

/**
 * Reads between the four nearest pixels.
 * @param u 0..1 from left to right, further where it wraps @param v the same downwards
 */
export function sample(texture: Texture, u: number, v: number, channel = 0): number {
  const { width, height, channels, data, wraps } = texture;
  const x = u * width - 0.5;
  const y = v * height - 0.5;
  const left = Math.floor(x);
  const top = Math.floor(y);
  const fx = x - left;
  const fy = y - top;
  const x0 = placed(left, width, wraps);
  const x1 = placed(left + 1, width, wraps);
  const y0 = placed(top, height, wraps) * width;
  const y1 = placed(top + 1, height, wraps) * width;
  const above = data[(y0 + x0) * channels + channel] * (1 - fx) + data[(y0 + x1) * channels + channel] * fx;
  const below = data[(y1 + x0) * channels + channel] * (1 - fx) + data[(y1 + x1) * channels + channel] * fx;
  return above * (1 - fy) + below * fy;
}

function placed(at: number, length: number, wraps: boolean): number {
  if (at >= 0 && at < length) return at;
  if (!wraps) return at < 0 ? 0 : length - 1;
  const rest = at % length;
  return rest < 0 ? rest + length : rest;
}
