import { linearTable, srgbEncoder } from "#core/raster/srgb";
import type { Raster } from "#core/raster/raster";

const SHARES = 256;
/** No more pixels than this are looked at. */
const MOST_PIXELS = 65_536;
/** Finer than the steps of 16 bits in linear light. */
const MOST_LIGHT = 2 ** 32 - 1;

/**
 * The colours of a picture in 256 equal shares of its area, from the darkest to the lightest, each the mean of its share in linear
 * light: what is made of them by curves and tints comes out as it does of all pixels.
 * @returns sRGB of 8 bits, three bytes a share
 */
export function colorShares({ width, height, channels, bitDepth, data }: Raster): Uint8Array {
  const linear = linearTable(bitDepth);
  const pixels = width * height;
  const count = Math.min(pixels, MOST_PIXELS);
  const colors = new Float32Array(count * 3);
  const lights = new Uint32Array(count);
  for (let i = 0; i < count; i++) {
    const from = Math.floor((i * pixels) / count) * channels;
    for (let c = 0; c < 3; c++) colors[i * 3 + c] = linear[data[from + (channels < 3 ? 0 : c)]];
    const light = 0.2126 * colors[i * 3] + 0.7152 * colors[i * 3 + 1] + 0.0722 * colors[i * 3 + 2];
    lights[i] = Math.min(MOST_LIGHT, Math.round(light * MOST_LIGHT));
  }
  const order = orderOf(lights);
  const encode = srgbEncoder(8);
  const shares = new Uint8Array(SHARES * 3);
  for (let share = 0; share < SHARES; share++) {
    const from = Math.min(count - 1, Math.floor((share * count) / SHARES));
    const before = Math.max(from + 1, Math.floor(((share + 1) * count) / SHARES));
    for (let c = 0; c < 3; c++) {
      let sum = 0;
      for (let at = from; at < before; at++) sum += colors[order[at] * 3 + c];
      shares[share * 3 + c] = encode(sum / (before - from));
    }
  }
  return shares;
}

/** Bits that are counted at a time: few enough for their counts to stay near the processor. */
const DIGIT = 11;

/** The places of numbers of 32 bits, from the least on: counted by their lowest bits first, in which equals keep their order. */
function orderOf(numbers: Uint32Array): Uint32Array {
  const { length } = numbers;
  let [order, next] = [new Uint32Array(length), new Uint32Array(length)];
  for (let i = 0; i < length; i++) order[i] = i;
  const digits = 2 ** DIGIT;
  for (let shift = 0; shift < 32; shift += DIGIT) {
    const starts = new Uint32Array(digits + 1);
    for (let i = 0; i < length; i++) starts[((numbers[i] >>> shift) & (digits - 1)) + 1]++;
    for (let digit = 1; digit < digits; digit++) starts[digit] += starts[digit - 1];
    for (let i = 0; i < length; i++) next[starts[(numbers[order[i]] >>> shift) & (digits - 1)]++] = order[i];
    [order, next] = [next, order];
  }
  return order;
}

/** The same with an opaque fourth channel, as decoded pixels have. */
export function withAlpha(colors: Uint8Array): Uint8Array {
  const pixels = new Uint8Array((colors.length / 3) * 4).fill(255);
  for (let i = 0, o = 0; i < colors.length; i += 3, o += 4) pixels.set(colors.subarray(i, i + 3), o);
  return pixels;
}
