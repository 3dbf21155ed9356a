import type { Panorama } from "#core/picture/environment";

/** What an environment is read as: fine enough for what a smooth surface mirrors. */
const WIDTH = 256;
const HEIGHT = 128;
/** The most that a half-precision number holds; a lamp is never brighter. */
const BRIGHTEST = 65504;

/** An image in linear light, rows from the top. */
export interface LightImage {
  width: number;
  height: number;
  channels: 1 | 2 | 3 | 4;
  data: ArrayLike<number>;
}

/** Why an image is no panorama of all directions; nothing where it is one. */
export const panoramaTrouble = ({
  width,
  height,
}: Pick<LightImage, "width" | "height">): string | undefined =>
  width >= 16 && Math.abs(width / height - 2) <= 0.02
    ? undefined
    : `A panorama of all directions is twice as wide as high, and this is ${width} × ${height} px.`;

/**
 * Reads a panorama, averaged over what is left of it. What is no number is taken for dark, and so is what is below 0.
 * @throws {RangeError} for another shape
 */
export function panoramaFrom(image: LightImage): Panorama {
  const trouble = panoramaTrouble(image);
  if (trouble) throw new RangeError(trouble);
  const { width, height, channels, data } = image;
  const out = new Float32Array(WIDTH * HEIGHT * 3);
  const isGrey = channels < 3;
  for (let y = 0, o = 0; y < HEIGHT; y++) {
    const [top, bottom] = bounds(y, HEIGHT, height);
    for (let x = 0; x < WIDTH; x++) {
      const [left, right] = bounds(x, WIDTH, width);
      for (let c = 0; c < 3; c++, o++) {
        let sum = 0;
        for (let row = top; row < bottom; row++)
          for (let column = left; column < right; column++) {
            const value = data[(row * width + column) * channels + (isGrey ? 0 : c)];
            if (value > 0) sum += Math.min(BRIGHTEST, value);
          }
        out[o] = sum / ((bottom - top) * (right - left));
      }
    }
  }
  return { width: WIDTH, height: HEIGHT, data: out };
}

/** Pixels of an image under one of so many, at least one. */
function bounds(at: number, of: number, length: number): [from: number, before: number] {
  const from = Math.min(length - 1, Math.floor((at * length) / of));
  return [from, Math.max(from + 1, Math.floor(((at + 1) * length) / of))];
}

/** The bytes of a panorama: its numbers one after the other, as the machine has them (little-endian). */
export const panoramaBytes = ({ data }: Panorama): Uint8Array =>
  new Uint8Array(data.buffer, data.byteOffset, data.byteLength);

/** @throws {RangeError} for other bytes */
export function panoramaOfBytes(bytes: ArrayBuffer): Panorama {
  const data = new Float32Array(bytes);
  if (data.length !== WIDTH * HEIGHT * 3) throw new RangeError("These are not the bytes of a panorama.");
  return { width: WIDTH, height: HEIGHT, data };
}
