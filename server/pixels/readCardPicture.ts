import { flatCard } from "#core/card/flatCard";
import { readCard, type CardReading } from "#core/card/readCard";
import type { Raster } from "#core/raster/raster";
import { decode } from "#server/pixels/decode";
import { encode, fromRaster } from "#server/pixels/encode";

export interface ReadCardTask {
  path: string;
  format: string;
}

/** Larger pictures say no more, and take longer. */
const MOST_PX = 1600;

/** Reads the picture of a test card. @returns what it says, and the card as it looks from straight ahead, as a PNG @throws {Refusal} */
export async function readCardPicture({
  path,
  format,
}: ReadCardTask): Promise<{ reading: CardReading; flat: Uint8Array }> {
  const picture = await reduced(await decode(path, format, "color"));
  const reading = readCard(picture);
  return { reading, flat: await encode(flatCard(picture, reading.placed.toPicture), "png") };
}

/** 8 bits, and no larger than it need be; what is clear lies on grey. */
async function reduced(raster: Raster): Promise<Raster> {
  const { data, info } = await fromRaster(raster)
    .flatten({ background: "#808080" })
    .resize(MOST_PX, MOST_PX, { fit: "inside", withoutEnlargement: true })
    .toColourspace("srgb")
    .raw()
    .toBuffer({ resolveWithObject: true });
  const { width, height, channels } = info;
  return { width, height, channels, bitDepth: 8, data: new Uint8Array(data) };
}
