import { areaFilter } from "#core/raster/areaFilter";
import { maxValue, rasterLike, type Raster } from "#core/raster/raster";
import { openRows } from "#core/raster/simd/rows";

export interface Roughening {
  /** Size at which the normal map is delivered. */
  width: number;
  height: number;
  /** Weight of the lost variance: the square of the normal's strength, less where it is not wholly wanted. */
  weight: number;
  /** What the image holds. */
  values: "roughness" | "gloss";
  wrap: boolean;
}

/** Slopes steeper than this are the encoding's last codes, and no relief. */
const LEAST_UP = 0.05;

/**
 * Gives a roughness map the relief that a normal map loses by being reduced: the variance of its slopes under each new
 * texel widens the lobe, α'² = α² + w (σ_p² + σ_q²) with α = r² (Olano and Baker 2010, LEAN mapping; the idea is
 * Toksvig's, 2005). A flat normal map changes nothing.
 * @param image perceptual roughness or gloss, in its first channel; its size may differ from the normal's
 * @param normal as it came, before it is reduced; which way its green points does not matter
 * @param out where the result goes; may be the image itself
 */
export function roughenByNormal(
  image: Raster,
  normal: Raster,
  by: Roughening,
  out = rasterLike(image),
): Raster {
  if (out !== image) out.data.set(image.data);
  const variances = varianceAt(image, lostVariance(normal, by), by);
  const { width, height, channels, bitDepth } = image;
  const rows = openRows();
  const codes = rows.codes(bitDepth, width * channels);
  const lost = rows.floats(width);
  for (let y = 0; y < height; y++) {
    const row = out.data.subarray(y * codes.length, (y + 1) * codes.length);
    codes.set(row);
    lost.set(variances.subarray(y * width, (y + 1) * width));
    rows.kernels.widen(
      codes.byteOffset,
      bitDepth === 16,
      channels,
      by.values === "gloss",
      lost.byteOffset,
      by.weight,
      width,
    );
    row.set(codes);
  }
  return out;
}

/** σ_p² + σ_q² of the slopes under each texel of the reduced normal map, less what rounding to whole codes makes. */
function lostVariance(normal: Raster, { width, height, wrap }: Roughening): Float32Array {
  const { data, channels, bitDepth } = normal;
  // A code is 2 / max wide; a value spread evenly over it has a twelfth of its square as variance, in both slopes.
  const rounding = (2 * (2 / maxValue(normal)) ** 2) / 12;
  const rows = openRows();
  const codes = rows.codes(bitDepth, normal.width * channels);
  const readRow = (y: number, into: Float32Array) => {
    codes.set(data.subarray(y * codes.length, (y + 1) * codes.length));
    rows.kernels.slopes(codes.byteOffset, bitDepth === 16, channels, LEAST_UP, into.byteOffset, normal.width);
  };
  const lost = rows.floats(width);
  const out = new Float32Array(width * height);
  const source = { width: normal.width, height: normal.height, channels: 3, wrap, readRow };
  areaFilter(rows, source, width, height, (y, means) => {
    rows.kernels.variance(means.byteOffset, rounding, lost.byteOffset, width);
    out.set(lost, y * width);
  });
  return out;
}

/** The variance at the texels of the roughness map. */
function varianceAt(
  image: Raster,
  variance: Float32Array,
  { width, height, wrap }: Roughening,
): Float32Array {
  if (image.width === width && image.height === height) return variance;
  const readRow = (y: number, into: Float32Array) => into.set(variance.subarray(y * width, (y + 1) * width));
  const out = new Float32Array(image.width * image.height);
  const source = { width, height, channels: 1, readRow, wrap };
  areaFilter(openRows(), source, image.width, image.height, (y, values) => out.set(values, y * image.width));
  return out;
}
