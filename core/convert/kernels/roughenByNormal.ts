import { areaFilter } from "#core/raster/areaFilter";
import { maxValue, rasterLike, type Raster } from "#core/raster/raster";

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
  const variance = varianceAt(image, lostVariance(normal, by), by);
  const max = maxValue(image);
  const isGloss = by.values === "gloss";
  for (let i = 0, o = 0; i < variance.length; i++, o += image.channels) {
    if (variance[i] <= 0) continue;
    const value = image.data[o] / max;
    const roughness = isGloss ? 1 - value : value;
    const squared = roughness * roughness;
    const wider = Math.min(1, Math.sqrt(Math.sqrt(squared * squared + by.weight * variance[i])));
    out.data[o] = Math.round((isGloss ? 1 - wider : wider) * max);
  }
  return out;
}

/** σ_p² + σ_q² of the slopes under each texel of the reduced normal map, less what rounding to whole codes makes. */
function lostVariance(normal: Raster, { width, height, wrap }: Roughening): Float32Array {
  const { data, channels } = normal;
  const max = maxValue(normal);
  const stride = normal.width * channels;
  // A code is 2 / max wide; a value spread evenly over it has a twelfth of its square as variance, in both slopes.
  const rounding = (2 * (2 / max) ** 2) / 12;
  const out = new Float32Array(width * height);
  areaFilter(
    {
      width: normal.width,
      height: normal.height,
      channels: 3,
      wrap,
      readRow(y, into) {
        for (let i = 0, s = y * stride; i < into.length; i += 3, s += channels) {
          const up = Math.max(LEAST_UP, (data[s + 2] / max) * 2 - 1);
          const p = ((data[s] / max) * 2 - 1) / up;
          const q = ((data[s + 1] / max) * 2 - 1) / up;
          into[i] = p;
          into[i + 1] = q;
          into[i + 2] = p * p + q * q;
        }
      },
    },
    width,
    height,
    (y, moments) => {
      for (let x = 0, m = 0, o = y * width; x < width; x++, m += 3, o++) {
        const p = moments[m];
        const q = moments[m + 1];
        out[o] = Math.max(0, moments[m + 2] - p * p - q * q - rounding);
      }
    },
  );
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
  areaFilter({ width, height, channels: 1, readRow, wrap }, image.width, image.height, (y, values) =>
    out.set(values, y * image.width),
  );
  return out;
}
