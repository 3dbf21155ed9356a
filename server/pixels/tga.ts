import { Refusal } from "#core/text/refusal";
import { decodeTga } from "@lunapaint/tga-codec";
import { createRaster, type Raster } from "#core/raster/raster";

/** What a TGA header declares, or undefined where the bytes are no TGA. It has no signature, so every field is checked. */
export function readTgaHeader(
  data: Uint8Array,
): { width: number; height: number; channels: 1 | 3 | 4 } | undefined {
  if (data.length < 18) return undefined;
  const view = new DataView(data.buffer, data.byteOffset, 18);
  const colorMapType = view.getUint8(1);
  const imageType = view.getUint8(2);
  const width = view.getUint16(12, true);
  const height = view.getUint16(14, true);
  const bits = view.getUint8(16);
  const descriptor = view.getUint8(17);
  const known =
    [1, 2, 3, 9, 10, 11].includes(imageType) && colorMapType <= 1 && [8, 15, 16, 24, 32].includes(bits);
  if (!known || width === 0 || height === 0 || (descriptor & 0xc0) !== 0) return undefined;
  if (([1, 9].includes(imageType) ? 1 : 0) !== colorMapType && colorMapType !== 1) return undefined;
  const grey = imageType === 3 || imageType === 11;
  return { width, height, channels: grey ? 1 : bits === 32 ? 4 : 3 };
}

/** @throws with a sentence that says what is wrong with the file. */
export async function readTga(data: Uint8Array): Promise<Raster> {
  const header = readTgaHeader(data);
  if (!header) throw new Refusal("The TGA is damaged: its header does not fit.");
  const { width, height, channels } = header;
  const decoded = await decodeTga(data).catch(() => {
    throw new Refusal("The TGA is damaged: its pixels end before the image does.");
  });
  const rgba = decoded.image.data;
  const raster = createRaster(width, height, channels, 8);
  for (let i = 0, o = 0; o < raster.data.length; i += 4, o += channels)
    for (let c = 0; c < channels; c++) raster.data[o + c] = rgba[i + c];
  return raster;
}
