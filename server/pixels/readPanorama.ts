import { panoramaBytes, panoramaFrom, panoramaTrouble } from "#core/picture/panorama";
import type { Panorama } from "#core/picture/environment";
import { maxValue } from "#core/raster/raster";
import { srgbToLinear } from "#core/raster/srgb";
import { Refusal } from "#core/text/refusal";
import { decode, decodeFloat, readFacts } from "#server/pixels/decode";

export interface PanoramaFile {
  path: string;
  format: string;
}

/** Light from all sides, from a file of any format. @throws {Refusal} where it is no panorama */
export async function readPanorama({ path, format }: PanoramaFile): Promise<Panorama> {
  const facts = await readFacts(path);
  const trouble = panoramaTrouble(facts);
  if (trouble) throw new Refusal(trouble);
  const image = await decodeFloat(path, format, facts.bitDepth);
  if (image) return panoramaFrom(image);
  const raster = await decode(path, format, "color");
  const most = maxValue(raster);
  return panoramaFrom({
    ...raster,
    data: Float32Array.from(raster.data, (code) => srgbToLinear(code / most)),
  });
}

/** The same as bytes, to be kept. */
export const panoramaFile = async (file: PanoramaFile): Promise<Uint8Array> =>
  panoramaBytes(await readPanorama(file));
