import type { IntakeImage } from "#core/candidates/candidate";
import type { ImageRow } from "#server/images/queries";
import type { Found } from "#server/intake/stages/found";

const EXTENSIONS: Record<string, string> = {
  png: "png",
  jpg: "jpeg",
  jpeg: "jpeg",
  tif: "tiff",
  tiff: "tiff",
  webp: "webp",
  avif: "avif",
  tga: "tga",
  bmp: "bmp",
  exr: "exr",
  hdr: "hdr",
};

/** A file of an intake with what was studied of it. */
export function intakeImage(
  { file, scope, sha256, given }: Omit<Found, "bytes">,
  row: ImageRow,
): IntakeImage {
  const expected = EXTENSIONS[/\.([a-z0-9]+)$/i.exec(file)?.[1].toLowerCase() ?? ""];
  return {
    file,
    scope,
    sha256,
    format: row.format,
    width: row.width,
    height: row.height,
    bitDepth: row.bit_depth,
    channels: row.channels,
    alpha: row.alpha,
    colorSpace: row.color_space,
    ...(row.profile !== null && { profile: row.profile }),
    ...(row.profile_unreadable && { profileUnreadable: true }),
    ...(row.orientation > 1 && { orientation: row.orientation }),
    pages: row.pages,
    ...(row.damaged && { damaged: true }),
    ...(given && { given }),
    ...(row.float_range && { range: row.float_range }),
    ...(row.reading && { reading: row.reading }),
    ...(row.repetition && { repetition: row.repetition }),
    ...(expected === row.format ? {} : { mistakenFor: row.format }),
  };
}
