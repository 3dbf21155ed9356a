import { checkSameSize, maxValue, rasterLike, type Raster } from "#core/raster/raster";
import { linearTable, srgbEncoder } from "#core/raster/srgb";

/**
 * base × lerp(1, ao^gamma, strength) in linear light. `base` is sRGB-encoded with one or three channels (a fourth is
 * left alone), `occlusion` is linear data read from its first channel. Where occlusion is 1 nothing changes.
 * @param out where the result goes; may be `base` itself
 */
export function multiplyOcclusion(
  base: Raster,
  occlusion: Raster,
  strength: number,
  gamma: number,
  out = rasterLike(base),
): Raster {
  checkSameSize(base, occlusion);
  if (out !== base) out.data.set(base.data);
  const max = maxValue(base);
  const toLinear = linearTable(base.bitDepth);
  const aoMax = maxValue(occlusion);
  const factors = Float32Array.from(
    { length: aoMax + 1 },
    (_, v) => 1 - strength + strength * (v / aoMax) ** gamma,
  );
  const colors = base.channels < 3 ? 1 : 3;
  const encode = srgbEncoder(base.bitDepth);
  const darkened = (value: number, factor: number) => encode(toLinear[value] * factor);
  if (max === 255 && aoMax === 255) {
    // 65,536 pairs of values, in place of a power for each sample of the image.
    const table = new Uint8Array(256 * 256);
    for (let ao = 0, i = 0; ao < 256; ao++)
      for (let value = 0; value < 256; value++, i++)
        table[i] = factors[ao] === 1 ? value : darkened(value, factors[ao]);
    byTable(base, occlusion, table, out);
    return out;
  }
  for (let i = 0, a = 0; i < base.data.length; i += base.channels, a += occlusion.channels) {
    const factor = factors[occlusion.data[a]];
    if (factor === 1) continue;
    for (let c = i; c < i + colors; c++) out.data[c] = darkened(base.data[c], factor);
  }
  return out;
}

/** Each colour by a table of all values under all occlusions. */
function byTable(base: Raster, occlusion: Raster, table: Uint8Array, out: Raster): void {
  const [from, by, to] = [base.data, occlusion.data, out.data];
  const [step, stepBy, length] = [base.channels, occlusion.channels, base.data.length];
  if (step < 3)
    for (let i = 0, a = 0; i < length; i += step, a += stepBy) to[i] = table[(by[a] << 8) | from[i]];
  else
    for (let i = 0, a = 0; i < length; i += step, a += stepBy) {
      const row = by[a] << 8;
      to[i] = table[row | from[i]];
      to[i + 1] = table[row | from[i + 1]];
      to[i + 2] = table[row | from[i + 2]];
    }
}
