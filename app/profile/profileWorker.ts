import { carryOut } from "#core/convert/carryOut";
import type { PlannedImage } from "#core/convert/materialPlan";
import { createRaster, type Raster } from "#core/raster/raster";

/** The pixels of a map's miniature, four channels. */
export interface SentPixels {
  key: string;
  width: number;
  height: number;
  data: Uint8ClampedArray<ArrayBuffer>;
}

export type ProfileMessage =
  | { kind: "pixels"; pixels: SentPixels[] }
  /** In place of what was asked for before. */
  | { kind: "make"; images: { key: string; image: PlannedImage }[]; wrap: boolean };

/** Four channels. */
export interface MadeImage {
  width: number;
  height: number;
  data: Uint8ClampedArray<ArrayBuffer>;
}

/** An image by its key; none where it could not be made. */
export interface MadeMessage {
  key: string;
  made: MadeImage | null;
}

const known = new Map<string, SentPixels>();
let turn = 0;

/** Makes what a profile makes of a miniature; what is no longer wanted is left. */
self.onmessage = ({ data }: MessageEvent<ProfileMessage>) => {
  if (data.kind === "pixels") for (const one of data.pixels) known.set(one.key, one);
  else void make(data);
};

async function make({ images, wrap }: Extract<ProfileMessage, { kind: "make" }>): Promise<void> {
  const mine = ++turn;
  for (const { key, image } of images) {
    // Answers come faster than pictures: let them in.
    await new Promise((resolve) => setTimeout(resolve, 0));
    if (mine !== turn) return;
    let made: MadeImage | null = null;
    try {
      made = shown(await carryOut(image, async ({ sha256 }) => pixelsOf(sha256), { wrap }));
    } catch (error) {
      console.warn("A sample could not be made", key, error);
    }
    self.postMessage({ key, made } satisfies MadeMessage);
  }
}

function pixelsOf(key: string): Raster {
  const from = known.get(key);
  if (!from) throw new RangeError(`There are no pixels of ${key}.`);
  const raster = createRaster(from.width, from.height, 3, 8);
  for (let at = 0, to = 0; at < from.data.length; at += 4, to += 3)
    raster.data.set(from.data.subarray(at, at + 3), to);
  return raster;
}

/** As a canvas shows it. */
function shown({ width, height, channels, bitDepth, data }: Raster): MadeImage {
  const out = new Uint8ClampedArray(width * height * 4);
  const share = bitDepth === 16 ? 1 / 257 : 1;
  for (let pixel = 0; pixel < width * height; pixel++) {
    const from = pixel * channels;
    for (let channel = 0; channel < 3; channel++)
      out[pixel * 4 + channel] = data[from + (channels < 3 ? 0 : channel)] * share;
    out[pixel * 4 + 3] = channels === 4 ? data[from + 3] * share : 255;
  }
  return { width, height, data: out };
}
