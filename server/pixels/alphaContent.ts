import type { AlphaContent } from "#core/candidates/candidate";
import type { Raster } from "#core/raster/raster";

/** What the fourth channel says: a cut-out is nearly all 0 or full, with both; anything else that varies is something else. */
export function alphaContent(raster: Raster): AlphaContent {
  const { channels, data } = raster;
  if (channels !== 2 && channels !== 4) return "none";
  const max = raster.bitDepth === 16 ? 65535 : 255;
  const near = max * 0.02;
  let [low, high] = [max, 0];
  let [empty, full] = [0, 0];
  for (let i = channels - 1; i < data.length; i += channels) {
    const v = data[i];
    if (v < low) low = v;
    if (v > high) high = v;
    if (v <= near) empty++;
    else if (v >= max - near) full++;
  }
  const count = data.length / channels;
  if (high - low <= near) return "constant";
  const bothOccur = empty > count * 0.002 && full > count * 0.002;
  return bothOccur && empty + full > count * 0.95 ? "cut-out" : "varied";
}
