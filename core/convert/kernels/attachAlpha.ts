import { checkSameSize, rasterLike, type Raster } from "#core/raster/raster";

/**
 * Puts an opacity map into the fourth channel of a colour image. Colour under fully transparent texels is bled
 * from the nearest opaque ones (by steps up, down and sideways), so that filtering draws no fringe.
 */
export function attachAlpha(color: Raster, opacity: Raster): Raster {
  checkSameSize(color, opacity);
  const out = rasterLike(color, 4);
  const count = color.width * color.height;
  const queue = new Int32Array(count);
  const seen = new Uint8Array(count);
  let end = 0;
  for (let i = 0; i < count; i++) {
    const alpha = opacity.data[i * opacity.channels];
    for (let c = 0; c < 3; c++)
      out.data[i * 4 + c] = color.data[i * color.channels + (color.channels < 3 ? 0 : c)];
    out.data[i * 4 + 3] = alpha;
    if (alpha > 0) {
      seen[i] = 1;
      queue[end++] = i;
    }
  }
  for (let start = 0; start < end; start++) {
    const i = queue[start];
    const x = i % color.width;
    for (const n of [
      x > 0 ? i - 1 : -1,
      x < color.width - 1 ? i + 1 : -1,
      i - color.width,
      i + color.width,
    ]) {
      if (n < 0 || n >= count || seen[n]) continue;
      seen[n] = 1;
      for (let c = 0; c < 3; c++) out.data[n * 4 + c] = out.data[i * 4 + c];
      queue[end++] = n;
    }
  }
  return out;
}
