import { Refusal } from "#core/text/refusal";
import { readFile } from "node:fs/promises";
import sharp from "sharp";
import { pictureFigures, type PictureFigures } from "#core/judge/pictureFigures";
import { fingerprintOf, type Fingerprint } from "#core/judge/fingerprint";
import { GREY, looksLikeNormal, readImage, type ImageReading } from "#core/judge/imageReading";
import { readRepetition, type RepetitionReading } from "#core/judge/repetition";
import type { AlphaContent, FloatRange } from "#core/candidates/candidate";
import { lumaOf } from "#core/raster/plane";
import { dropAlpha, extractChannel } from "#core/convert/kernels/channels";
import { colorShares } from "#core/finish/colorShares";
import { createRaster, type Raster } from "#core/raster/raster";
import { alphaContent } from "#server/pixels/alphaContent";
import { decode, decodeFloat, readFacts, type ImageFacts } from "#server/pixels/decode";
import { fromRaster } from "#server/pixels/encode";
import { rangeOf, toneMapped, toSixteenBits } from "#server/pixels/floatImage";
import { toRaster } from "#server/pixels/toRaster";
import { sentenceOf } from "#server/sentenceOf";
import { makePreviews, type Preview } from "#server/pixels/previews";

/** Everything that is read from one image while it is decoded once. */
export interface StudiedFile extends ImageFacts {
  alpha: AlphaContent;
  range: FloatRange | null;
  reading: ImageReading;
  /** Null for a normal map, as the fingerprint is. */
  repetition: RepetitionReading | null;
  fingerprint: Fingerprint | null;
  figures: PictureFigures | null;
  /** In 256 shares of its area. */
  colors: Uint8Array;
  /** Whether its pixels could be read, but are damaged in places. */
  damaged: boolean;
  /** What its previews were made as. */
  shownAs: "color" | "data";
  previews: Preview[];
  /** The square reduction that sets are compared by, as a PNG. */
  small: Uint8Array;
}

/** Side of the square reduction. */
const SMALL = 256;

/** Decoded samples, their working copies and what libvips needs beside them, for each byte of the decoded image. */
const COPIES = 3.5;

/** What decoding an image takes at the least, counted before any of it is allocated. */
function neededMebibytes({ width, height, channels, samples, bitDepth }: ImageFacts): number {
  const extra = Math.max(0, samples - channels);
  return Math.ceil((width * height * (channels * COPIES + extra) * bitDepth) / 8 / 2 ** 20);
}

/** Decodes an image once and reads all that there is to read from it. @throws with a sentence for people. */
export async function study({ path, mebibytes }: { path: string; mebibytes: number }): Promise<StudiedFile> {
  const facts = await readFacts(path);
  const needed = neededMebibytes(facts);
  if (needed > mebibytes)
    throw new Refusal(
      `${facts.width} × ${facts.height} px with ${facts.bitDepth} bits need about ${needed} MiB of memory; the limit for one file is ${mebibytes} MiB.`,
    );
  const float = await decodeFloat(path, facts.format, facts.bitDepth);
  const { raster, damaged } = float
    ? { raster: toSixteenBits(float, "data"), damaged: false }
    : await decodeWhole(path, facts.format);
  const judged = await judgeImage(raster);
  const { reading, looksColored: colored } = judged;
  const light = float !== undefined && colored && rangeOf(float).max > 1.2;
  const shown = light
    ? toneMapped(float)
    : colored && (facts.profile !== null || facts.colorSpace === "cmyk" || float)
      ? await decode(path, facts.format, "color")
      : raster;
  return {
    ...facts,
    alpha: judged.alpha,
    damaged,
    range: float ? rangeOf(float) : null,
    reading,
    repetition: judged.repetition,
    fingerprint: judged.fingerprint,
    figures: judged.figures,
    // As it is shown: its own profile says what its numbers mean.
    colors: shown === raster ? judged.colors : colorShares(shown),
    shownAs: colored ? "color" : "data",
    previews: await makePreviews(shown, "color", colored ? "color" : "data"),
    small: judged.small,
  };
}

/** All that the pixels of one decoded image say, and the square reduction that it is compared by. */
export async function judgeImage(raster: Raster) {
  const small = await squeezed(raster);
  const reading = readImage(raster);
  const asNormal = reading.normal !== null && looksLikeNormal(reading.normal);
  return {
    reading,
    looksColored: reading.color.length === 3 && reading.spread >= GREY && !asNormal,
    alpha: alphaContent(raster),
    repetition: asNormal ? null : readRepetition(small),
    fingerprint: asNormal ? null : fingerprintOf(lumaOf(small)),
    figures: asNormal ? null : pictureFigures(small),
    colors: colorShares(small),
    small: await fromRaster(small).png({ compressionLevel: 3 }).toBuffer(),
  };
}

/** The decoder of JPEG goes on behind damaged data, with a warning: that is heard, and the picture read all the same. */
async function decodeWhole(path: string, format: string): Promise<{ raster: Raster; damaged: boolean }> {
  const read = async (strictness: "error" | "warning") => {
    try {
      return await decode(path, format, "data", strictness);
    } catch (error) {
      throw new Refusal(sentenceOf(error, `The ${format.toUpperCase()} is damaged or cut short.`));
    }
  };
  if (format !== "jpeg") return { raster: await read("error"), damaged: false };
  return read("warning").then(
    (raster) => ({ raster, damaged: false }),
    async () => ({ raster: await read("error"), damaged: true }),
  );
}

/** The fourth channel is reduced apart: together, the library would weigh the others by it, and bend the vectors of a normal map. */
async function squeezed(raster: Raster): Promise<Raster> {
  const { channels, bitDepth } = raster;
  if (channels % 2 === 0) {
    const [shown, alpha] = [
      await squeezed(dropAlpha(raster)),
      await squeezed(extractChannel(raster, channels - 1)),
    ];
    const small = createRaster(SMALL, SMALL, channels, bitDepth);
    for (let i = 0; i < SMALL * SMALL; i++) {
      for (let c = 0; c < channels - 1; c++)
        small.data[i * channels + c] = shown.data[i * (channels - 1) + c];
      small.data[i * channels + channels - 1] = alpha.data[i];
    }
    return small;
  }
  return toRaster(fromRaster(raster).resize({ width: SMALL, height: SMALL, fit: "fill", kernel: "linear" }), {
    space: channels < 3 ? "grey" : "rgb",
    bitDepth,
  });
}

/** Reads a square reduction back, from its file or its bytes. */
export async function readSmall(from: string | Buffer): Promise<Raster> {
  const image = sharp(typeof from === "string" ? await readFile(from) : from);
  const { depth, channels } = await image.metadata();
  return toRaster(image, { space: channels <= 2 ? "grey" : "rgb", bitDepth: depth === "ushort" ? 16 : 8 });
}
