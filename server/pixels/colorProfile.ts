import * as lcms from "lcms-wasm";
import { createRaster, type Raster } from "#core/raster/raster";
import { plainLine } from "#core/text/plainText";

/** What the samples of a file stand for: a lightness, light of three colours, or shares of four inks. */
export type ColorSpace = "grey" | "rgb" | "cmyk";

/** Samples as they are in the file, with all its channels: up to five, inks and opacity. */
export interface Samples {
  width: number;
  height: number;
  channels: number;
  bitDepth: 8 | 16;
  data: Uint8Array | Uint16Array;
}

const SPACES = {
  grey: { name: "GRAY", kind: lcms.PT_GRAY, channels: 1 },
  rgb: { name: "RGB", kind: lcms.PT_RGB, channels: 3 },
  cmyk: { name: "CMYK", kind: lcms.PT_CMYK, channels: 4 },
};

/** Pixels that are converted at a time, so that what LittleCMS holds beside the image stays small. */
const STRIP = 2 ** 20;

let loading: Promise<lcms.LittleCms> | undefined;
const library = () => (loading ??= lcms.instantiate());

/**
 * Opens a profile, hands it to `use`, and closes it. What the library breaks off at leaves it unusable: the next profile gets
 * a fresh one.
 * @returns undefined where it is no profile of that kind of samples
 */
async function withProfile<T>(
  icc: Uint8Array,
  space: ColorSpace,
  use: (cms: lcms.LittleCms, profile: number) => T,
): Promise<T | undefined> {
  try {
    return await openedProfile(icc, space, use);
  } catch (error) {
    if (!(error instanceof WebAssembly.RuntimeError)) throw error;
    loading = undefined;
    return undefined;
  }
}

/** The profile is copied into the library's memory and not onto its stack, which is smaller than that of a printing press. */
async function openedProfile<T>(
  icc: Uint8Array,
  space: ColorSpace,
  use: (cms: lcms.LittleCms, profile: number) => T,
): Promise<T | undefined> {
  const cms = await library();
  const at = cms._malloc(icc.length);
  cms.HEAPU8.set(icc, at);
  const profile = cms.ccall("cmsOpenProfileFromMem", "number", ["number", "number"], [at, icc.length]);
  cms._free(at);
  if (profile === 0) return undefined;
  try {
    return cms.cmsGetColorSpaceASCII(profile) === SPACES[space].name ? use(cms, profile) : undefined;
  } finally {
    cms.cmsCloseProfile(profile);
  }
}

/** Hands on a transform to sRGB, relative colorimetric with black point compensation; undefined where there is none. */
function withTransform<T>(
  cms: lcms.LittleCms,
  profile: number,
  { space, extra, bitDepth }: { space: ColorSpace; extra: number; bitDepth: 8 | 16 },
  use: (transform: number) => T,
): T | undefined {
  const srgb = cms.cmsCreate_sRGBProfile();
  const format = (kind: number, channels: number) =>
    lcms.COLORSPACE_SH(kind) |
    lcms.CHANNELS_SH(channels) |
    lcms.EXTRA_SH(extra) |
    lcms.BYTES_SH(bitDepth / 8);
  const transform = cms.cmsCreateTransform(
    profile,
    format(SPACES[space].kind, SPACES[space].channels),
    srgb,
    format(lcms.PT_RGB, 3),
    lcms.INTENT_RELATIVE_COLORIMETRIC,
    lcms.cmsFLAGS_BLACKPOINTCOMPENSATION |
      (extra > 0 ? lcms.cmsFLAGS_COPY_ALPHA : 0) |
      // Its shortcut through a coarse table is off by up to two 8-bit steps; that for 8 bits of red, green and blue is exact.
      (space === "cmyk" || bitDepth === 16 ? lcms.cmsFLAGS_NOOPTIMIZE : 0),
  );
  cms.cmsCloseProfile(srgb);
  if (transform === 0) return undefined;
  try {
    return use(transform);
  } finally {
    cms.cmsDeleteTransform(transform);
  }
}

/** Levels that tell sRGB from other spaces: 9 × 9 × 9 of them, or 9 greys. */
const LEVELS = Array.from({ length: 9 }, (_, i) => Math.round((i * 65535) / 8));
/** A space that moves nothing by more than this is sRGB under another name: half of an 8-bit step. */
const SAME = 65535 / 510;

/** What becomes of samples with a profile: "same" changes nothing, whatever it is called; "unreadable" is damaged, or of others. */
export type ProfileReading = { kind: "same" | "unreadable" } | { kind: "foreign"; name: string };

/** Tells by a few colours whether samples have to be converted. */
export async function readProfile(icc: Uint8Array, space: ColorSpace): Promise<ProfileReading> {
  const reading = await withProfile<ProfileReading | undefined>(icc, space, (cms, profile) => {
    const name =
      plainLine(cms.cmsGetProfileInfoASCII(profile, lcms.cmsInfoDescription, "en", "US"), 120).trim() ||
      "one without a name";
    return withTransform(cms, profile, { space, extra: 0, bitDepth: 16 }, (transform) => {
      const foreign: ProfileReading = { kind: "foreign", name };
      if (space === "cmyk") return foreign;
      const probes = Uint16Array.from(
        space === "grey"
          ? LEVELS
          : LEVELS.flatMap((r) => LEVELS.flatMap((g) => LEVELS.flatMap((b) => [r, g, b]))),
      );
      const pixels = probes.length / SPACES[space].channels;
      const after = cms.cmsDoTransform(transform, probes, pixels);
      const before = (i: number) => (space === "grey" ? probes[Math.floor(i / 3)] : probes[i]);
      return after.some((v, i) => Math.abs(v - before(i)) > SAME) ? foreign : { kind: "same" };
    });
  });
  return reading ?? { kind: "unreadable" };
}

/** Converts samples from a profile to sRGB, in their place where they fit, opacity as it is; undefined where the profile is none. */
export function toSrgb(samples: Samples, space: ColorSpace, icc: Uint8Array): Promise<Raster | undefined> {
  return withProfile(icc, space, (cms, profile) => {
    const { width, height, channels, bitDepth, data } = samples;
    const extra = channels - SPACES[space].channels;
    return withTransform(cms, profile, { space, extra, bitDepth }, (transform) => {
      const grey = space === "grey";
      const raster: Raster =
        space === "cmyk"
          ? createRaster(width, height, (3 + extra) as Raster["channels"], bitDepth)
          : { width, height, channels: channels as Raster["channels"], bitDepth, data };
      const pixels = width * height;
      for (let from = 0; from < pixels; from += STRIP) {
        const count = Math.min(STRIP, pixels - from);
        const part = cms.cmsDoTransform(
          transform,
          data.subarray(from * channels, (from + count) * channels),
          count,
        );
        if (grey) keepGreen(part, raster, from, count);
        else raster.data.set(part, from * raster.channels);
      }
      return raster;
    });
  });
}

/** A grey becomes three equal numbers, of which one is kept, and its opacity. */
function keepGreen(part: Uint8Array | Uint16Array, raster: Raster, from: number, count: number): void {
  const { channels, data } = raster;
  const wide = channels + 2;
  for (let i = 0; i < count; i++) {
    data[(from + i) * channels] = part[i * wide + 1];
    if (channels === 2) data[(from + i) * channels + 1] = part[i * wide + 3];
  }
}
