import { Refusal } from "#core/text/refusal";
import { decode as decodeBmp } from "bmp-ts";
import { createRaster, type Raster } from "#core/raster/raster";

/** Size of a BMP from its header; undefined where it is none. */
export function readBmpHeader(
  file: Uint8Array,
): { width: number; height: number; channels: 3 | 4 } | undefined {
  if (file.length < 54 || file[0] !== 0x42 || file[1] !== 0x4d) return undefined;
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  if (view.getUint32(14, true) < 40) return undefined;
  const width = view.getInt32(18, true);
  const height = Math.abs(view.getInt32(22, true));
  if (width <= 0 || height === 0) return undefined;
  return { width, height, channels: view.getUint16(28, true) === 32 ? 4 : 3 };
}

/** Kinds of rows that are read: one number after the other, with or without masks for the channels. */
const PLAIN_ROWS = new Set([0, 3, 6]);

/** @throws with a sentence where the pixels end early, or are packed in a way that is not read. */
export function readBmp(file: Uint8Array): Raster {
  const { width, height, channels } = readBmpHeader(file)!;
  const rows = new DataView(file.buffer, file.byteOffset, file.byteLength).getUint32(30, true);
  if (!PLAIN_ROWS.has(rows))
    throw new Refusal(
      `It is a BMP whose rows are ${rows === 1 || rows === 2 ? "run-length coded" : `coded in the way ${rows}`}, which is not read. Save it without compression, or as PNG.`,
    );
  let rgba: Uint8Array;
  try {
    const decoded = decodeBmp(Buffer.from(file), { toRGBA: true });
    if (decoded.width !== width || Math.abs(decoded.height) !== height) throw new RangeError("size");
    rgba = decoded.data;
  } catch {
    throw new Refusal("The BMP is damaged: its pixels end before the image does.");
  }
  // A fourth channel that is 0 throughout was never written: the format has no other way to say so.
  const used = channels === 4 && rgba.some((v, i) => i % 4 === 3 && v !== 0);
  const raster = createRaster(width, height, used ? 4 : 3, 8);
  for (let i = 0, o = 0; o < raster.data.length; i += 4, o += raster.channels)
    for (let c = 0; c < raster.channels; c++) raster.data[o + c] = rgba[i + c];
  return raster;
}
