import { JPEG_QUALITY } from "#core/convert/imageFormats";
import { maxValue, type Raster } from "#core/raster/raster";

/** An image that a package is to have. */
export interface ExpectedImage {
  slot: string;
  width: number;
  height: number;
  /** That it is to hold: no more than what it was made from had. */
  bits: number;
  /** The width of what it was made from. */
  sourceWidth: number;
  /** Of a JPEG that is to lose more than usual. */
  quality?: number;
}

/** What is wrong with a file itself: it is not there, has another size, or holds fewer steps than it should. */
export function imageCause(
  { slot, width, height, bits }: ExpectedImage,
  raster: Raster | undefined,
): string | undefined {
  if (!raster) return `The file for “${slot}” is missing.`;
  if (raster.width !== width || raster.height !== height)
    return `The file for “${slot}” has ${raster.width} × ${raster.height} px in place of ${width} × ${height}.`;
  return bits > 8 && isBanded(raster)
    ? `The file for “${slot}” has 256 steps at most, where it should have more: it was rounded to 8 bits.`
    : undefined;
}

/** Whether only such values are there as 8 bits have: a file of 16 says nothing of what went before. */
function isBanded(raster: Raster): boolean {
  if (raster.bitDepth === 8) return true;
  const step = maxValue(raster) / 255;
  return raster.data.every((value) => value % step === 0);
}

/** What is no mistake, and may yet be seen: images that are smaller than what they were made from. */
export function reductionCause(expected: readonly ExpectedImage[]): string | undefined {
  const reduced = expected.filter(({ width, sourceWidth }) => width < sourceWidth);
  if (reduced.length === 0) return undefined;
  const { width, sourceWidth } = reduced.reduce((a, b) =>
    b.sourceWidth / b.width > a.sourceWidth / a.width ? b : a,
  );
  return `Images are reduced, from ${sourceWidth} to ${width} px across.`;
}

/** The same of JPEG files that lose more than usual, as their profile asks. */
export function lossCause(expected: readonly ExpectedImage[]): string | undefined {
  const qualities = expected.flatMap(({ quality }) => (quality === undefined ? [] : [quality]));
  const least = Math.min(...qualities);
  return least < JPEG_QUALITY
    ? `JPEG files lose what a quality of ${least} of 100 does not keep.`
    : undefined;
}
