import { Refusal } from "#core/text/refusal";
import { open, readFile, stat } from "node:fs/promises";
import sharp, { type Metadata } from "sharp";
import type { Raster } from "#core/raster/raster";
import { readBmp, readBmpHeader } from "#server/pixels/bmp";
import { readProfile, toSrgb, type ColorSpace } from "#server/pixels/colorProfile";
import { readExr, readExrHeader } from "#server/pixels/exr";
import { toSixteenBits, type FloatImage } from "#server/pixels/floatImage";
import { readFloatTiff } from "#server/pixels/floatTiff";
import { readRadiance, readRadianceHeader } from "#server/pixels/radiance";
import { readSamples, toRaster } from "#server/pixels/toRaster";
import { readTga, readTgaHeader } from "#server/pixels/tga";

/** Largest image that is taken in: its pixels have to fit in memory several times over. */
const MAX_PIXELS = 16384 * 16384;

/** Formats that libvips reads, by its names. */
const FORMATS = new Set(["png", "jpeg", "tiff", "webp", "heif"]);

const READABLE = "PNG, JPEG, TIFF, WebP, AVIF, TGA, BMP, OpenEXR, Radiance HDR";

export interface ImageFacts {
  format: string;
  mediaType: string;
  width: number;
  height: number;
  channels: 1 | 2 | 3 | 4;
  /** As in the file; 32 for floating point, half or whole. */
  bitDepth: 8 | 16 | 32;
  colorSpace: ColorSpace;
  /** Name of the embedded colour profile, where its colours are not those of sRGB. */
  profile: string | null;
  /** Whether one is embedded that is damaged, or of other samples: the colours are taken for sRGB. */
  profileUnreadable: boolean;
  /** How its rows lie, after EXIF: 1 upright; 2 to 8 are turned or mirrored upright when it is read. */
  orientation: number;
  /** Images in the file; the first is read. */
  pages: number;
  /** Samples of each pixel in the file, those that are not read with them. */
  samples: number;
}

/** Reads what an image is by its content, whatever it is called. @throws with a sentence for people. */
export async function readFacts(path: string): Promise<ImageFacts> {
  const metadata = await sharp(path, { limitInputPixels: false })
    .metadata()
    .catch(() => undefined);
  const { size } = await stat(path);
  const facts =
    metadata?.format && FORMATS.has(metadata.format)
      ? await factsOf(metadata)
      : otherFacts(await readHead(path, size));
  checkPixels(facts.width, facts.height);
  checkContent(facts, size);
  return facts;
}

/** Headers stand at the front; a larger one than this is none of ours. */
const LARGEST_HEAD = 4 * 2 ** 20;

async function readHead(path: string, size: number): Promise<Uint8Array> {
  const handle = await open(path);
  try {
    const { buffer, bytesRead } = await handle.read(
      Buffer.alloc(Math.min(size, LARGEST_HEAD)),
      0,
      Math.min(size, LARGEST_HEAD),
      0,
    );
    return buffer.subarray(0, bytesRead);
  } finally {
    await handle.close();
  }
}

/** No picture of this many pixels fits into a byte: only one colour does, and a header that lies. */
const MOST_PER_BYTE = 50_000;
const LARGE_PIXELS = 2 ** 26;

function checkContent({ width, height }: ImageFacts, bytes: number): void {
  if (width * height > LARGE_PIXELS && width * height > bytes * MOST_PER_BYTE)
    throw new Refusal(
      `It says that it is ${width} × ${height} px, but has ${bytes} bytes: no picture of that size is in it.`,
    );
}

/** Of a format that libvips reads. */
async function factsOf(metadata: Metadata): Promise<ImageFacts> {
  const float = metadata.format === "tiff" && metadata.depth === "float";
  if (metadata.depth !== "uchar" && metadata.depth !== "ushort" && !float)
    throw new Refusal(
      `Its samples are of the kind “${metadata.depth}”; 8 and 16 bits and floating point are read.`,
    );
  const colorSpace = spaceOf(metadata);
  const avif = metadata.format === "heif";
  const profile = metadata.icc && !float ? await readProfile(metadata.icc, colorSpace) : undefined;
  return {
    format: avif ? "avif" : metadata.format,
    mediaType: avif ? "image/avif" : `image/${metadata.format}`,
    ...(float ? { width: metadata.width, height: metadata.height } : metadata.autoOrient),
    channels: Math.min(4, metadata.channels - (colorSpace === "cmyk" ? 1 : 0)) as ImageFacts["channels"],
    bitDepth: float ? 32 : metadata.depth === "ushort" ? 16 : 8,
    colorSpace,
    profile: profile?.kind === "foreign" ? profile.name : null,
    profileUnreadable: profile?.kind === "unreadable",
    orientation: float ? 1 : (metadata.orientation ?? 1),
    pages: metadata.pages ?? 1,
    samples: metadata.channels,
  };
}

const spaceOf = ({ space, channels }: Metadata): ColorSpace =>
  space === "cmyk" ? "cmyk" : channels <= 2 ? "grey" : "rgb";

/** Formats with decoders of their own. */
function otherFacts(file: Uint8Array): ImageFacts {
  if (file.length === 0) throw new Refusal("The file is empty (0 bytes). Copy or download it again.");
  const plain = {
    colorSpace: "rgb" as const,
    profile: null,
    profileUnreadable: false,
    orientation: 1,
    pages: 1,
    samples: 4,
  };
  const exr = readExrHeader(file);
  if (exr) {
    const channels = exr.channels.includes("R") ? (exr.channels.includes("A") ? 4 : 3) : 1;
    const { width, height } = exr;
    return {
      ...plain,
      format: "exr",
      mediaType: "image/x-exr",
      width,
      height,
      channels,
      bitDepth: 32,
      // All that the file has is unpacked, and then four of a kind are made.
      samples: exr.channels.length + 4,
    };
  }
  const radiance = readRadianceHeader(file);
  if (radiance) {
    return {
      ...plain,
      ...radiance,
      format: "hdr",
      mediaType: "image/vnd.radiance",
      channels: 3,
      bitDepth: 32,
    };
  }
  const bmp = readBmpHeader(file);
  if (bmp) {
    return { ...plain, ...bmp, format: "bmp", mediaType: "image/bmp", bitDepth: 8 };
  }
  const tga = readTgaHeader(file);
  if (!tga) throw new Refusal(`It is no image of a format that can be read (${READABLE}).`);
  return { ...plain, ...tga, format: "tga", mediaType: "image/x-tga", bitDepth: 8 };
}

function checkPixels(width: number, height: number): void {
  if (width * height > MAX_PIXELS || Math.max(width, height) > 32768)
    throw new Refusal(`It is ${width} × ${height} px; up to 16384 × 16384 px are read.`);
}

/** The samples of an image in floating point; undefined where the format has none. */
export async function decodeFloat(
  path: string,
  format: string,
  bitDepth: number,
): Promise<FloatImage | undefined> {
  if (format === "exr") return readExr(await readFile(path));
  if (format === "hdr") return readRadiance(await readFile(path));
  if (format === "tiff" && bitDepth === 32) return readFloatTiff(await readFile(path));
  return undefined;
}

/**
 * All channels of an image at its own bit depth, upright; floating point becomes 16 bits (`toSixteenBits`). Colours are converted
 * from an embedded profile to sRGB; data is left as it is, whatever profile is embedded. Inks without a profile are taken for
 * those of a common press.
 * @param strictness from which kind of damage on the image is not read
 */
export async function decode(
  path: string,
  format: string,
  use: "color" | "data",
  strictness: "error" | "warning" = "error",
): Promise<Raster> {
  if (format === "tga") return readTga(await readFile(path));
  if (format === "bmp") return readBmp(await readFile(path));
  if (format === "exr" || format === "hdr") return toSixteenBits((await decodeFloat(path, format, 32))!, use);
  // The library's own conversion makes another space of 16 bits, and knows one intent.
  const image = sharp(path, {
    limitInputPixels: MAX_PIXELS,
    ignoreIcc: true,
    autoOrient: true,
    failOn: strictness,
  });
  const metadata = await image.metadata();
  if (metadata.depth === "float") return toSixteenBits(await readFloatTiff(await readFile(path)), use);
  const space = spaceOf(metadata);
  const bitDepth = metadata.depth === "ushort" ? 16 : 8;
  const { icc } = metadata;
  if (use === "color" && icc && (await readProfile(icc, space)).kind === "foreign") {
    const converted = await toSrgb(await readSamples(image, { space, bitDepth }), space, icc);
    if (converted) return converted;
  }
  return toRaster(image, { space: space === "cmyk" ? "rgb" : space, bitDepth });
}
