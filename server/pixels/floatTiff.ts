import { Refusal } from "#core/text/refusal";
import type { FloatImage } from "#server/pixels/floatImage";

/** The first image of a TIFF with floating-point samples. @throws with a sentence where it cannot be read. */
export async function readFloatTiff(file: Uint8Array): Promise<FloatImage> {
  const { decode } = await import("tiff");
  try {
    const [image] = decode(file, { pages: [0] });
    const { width, height, samplesPerPixel: samples, data: raw } = image;
    const channels = samples >= 4 ? 4 : samples >= 3 ? 3 : 1;
    if (raw.length < width * height * samples) throw new RangeError("too short");
    const data = new Float32Array(width * height * channels);
    for (let i = 0; i < width * height; i++)
      for (let c = 0; c < channels; c++) data[i * channels + c] = raw[i * samples + c];
    return { width, height, channels, data };
  } catch {
    throw new Refusal(
      "The TIFF with floating-point samples is damaged, or compressed in a way that cannot be read.",
    );
  }
}
