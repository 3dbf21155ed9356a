import { readFile } from "node:fs/promises";
import sharp, { type Metadata } from "sharp";
import type { Raster } from "#core/raster/raster";
import { readTga, readTgaHeader } from "#server/images/tga";

/** Largest image that is taken in: its pixels have to fit in memory several times over. */
export const MAX_PIXELS = 16384 * 16384;

/** Formats that are read, by libvips' names. */
const FORMATS = new Set(["png", "jpeg", "tiff", "webp"]);

export interface ImageFacts {
  format: string;
  mediaType: string;
  width: number;
  height: number;
  channels: 1 | 2 | 3 | 4;
  bitDepth: 8 | 16;
  /** Whether a colour profile other than sRGB is embedded. */
  foreignProfile: boolean;
}

/** Reads what an image is by its content, whatever it is called. @throws with a sentence for people. */
export async function readFacts(path: string): Promise<ImageFacts> {
  const metadata = await sharp(path, { limitInputPixels: false })
    .metadata()
    .catch(() => undefined);
  if (!metadata?.format || !FORMATS.has(metadata.format)) {
    const header = readTgaHeader(await readFile(path));
    if (!header) throw new Error("It is no image of a format that can be read (PNG, JPEG, TIFF, WebP, TGA).");
    checkPixels(header.width, header.height);
    return { ...header, format: "tga", mediaType: "image/x-tga", bitDepth: 8, foreignProfile: false };
  }
  checkPixels(metadata.width, metadata.height);
  if (metadata.depth !== "uchar" && metadata.depth !== "ushort")
    throw new Error(`Its samples are of the kind “${metadata.depth}”; 8 and 16 bits are read.`);
  const cmyk = metadata.space === "cmyk";
  return {
    format: metadata.format,
    mediaType: `image/${metadata.format}`,
    width: metadata.width,
    height: metadata.height,
    channels: cmyk ? 3 : (Math.min(4, metadata.channels) as ImageFacts["channels"]),
    bitDepth: metadata.depth === "ushort" ? 16 : 8,
    foreignProfile: cmyk || hasForeignProfile(metadata),
  };
}

function checkPixels(width: number, height: number): void {
  if (width * height > MAX_PIXELS || Math.max(width, height) > 32768)
    throw new Error(`It is ${width} × ${height} px; up to 16384 × 16384 px are read.`);
}

function hasForeignProfile(metadata: Metadata): boolean {
  return metadata.icc !== undefined && !metadata.icc.toString("latin1").includes("sRGB");
}

/**
 * All channels of an image at its own bit depth. Colours are converted from an embedded profile to sRGB; data is
 * left as it is, whatever profile is embedded.
 */
export async function decode(path: string, format: string, use: "color" | "data"): Promise<Raster> {
  if (format === "tga") return readTga(await readFile(path));
  const image = sharp(path, { limitInputPixels: MAX_PIXELS, ignoreIcc: use === "data", failOn: "error" });
  const { depth, channels, space } = await image.metadata();
  const grey = channels <= 2 && space !== "cmyk";
  const bitDepth = depth === "ushort" ? 16 : 8;
  // libvips drops to 8 bits without a word unless the 16-bit space is named.
  const space16 = grey ? "grey16" : "rgb16";
  const { data, info } = await image
    .toColourspace(bitDepth === 16 ? space16 : grey ? "b-w" : "srgb")
    .raw({ depth: bitDepth === 16 ? "ushort" : "uchar" })
    .toBuffer({ resolveWithObject: true });
  return {
    width: info.width,
    height: info.height,
    channels: info.channels as Raster["channels"],
    bitDepth,
    data: bitDepth === 16 ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2) : data,
  };
}
