import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { linearTable, linearToSrgb } from "#core/raster/srgb";

/** Differences along the edge that are finer than this share of it belong to what is shown, and not to the light. */
const SLOW = 1 / 6;
/** No light is made stronger or weaker than by this at either edge. */
const MOST = 1.5;
/** A difference that nobody sees: the pixels stay as they are. */
const UNSEEN = 0.004;
/** Places along the edge at which the light is compared. */
const PLACES = 64;

/**
 * Brings the slow light of two opposite edges to one level, by a ramp over the whole picture: what is joined would else show a
 * light or dark band. Each channel is multiplied apart, in linear light.
 * @param raster a colour map: masks and measures have no light in them
 * @param lines how far the edges will lie over each other
 */
export function levelEdges(raster: Raster, direction: "across" | "down", lines: number): Raster {
  const { width, height, channels, data, bitDepth } = raster;
  const across = direction === "across";
  const [depth, length] = across ? [width, height] : [height, width];
  const max = maxValue(raster);
  const table = linearTable(bitDepth);
  const colors = channels < 3 ? 1 : 3;
  const out = createRaster(width, height, channels, bitDepth);
  out.data.set(data);
  for (let c = 0; c < colors; c++) {
    const read = (line: number, along: number) =>
      table[data[(across ? along * width + line : line * width + along) * channels + c]];
    const offsets = slowOffsets(read, depth, length, lines);
    if (offsets.every((offset) => Math.abs(offset) < UNSEEN)) continue;
    for (let line = 0; line < depth; line++) {
      // From the middle of one overlap to the middle of the other; beyond them it stays.
      const share = Math.max(-0.5, Math.min(0.5, (line - (lines - 1) / 2) / (depth - lines) - 0.5));
      for (let along = 0; along < length; along++) {
        const o = (across ? along * width + line : line * width + along) * channels + c;
        const light = table[data[o]] * Math.exp(share * offsets[along]);
        out.data[o] = Math.round(linearToSrgb(Math.min(1, light)) * max);
      }
    }
  }
  return out;
}

/** By how much the near edge is lighter than the far one at each place along them, slowly, as a logarithm. */
function slowOffsets(
  read: (line: number, along: number) => number,
  depth: number,
  length: number,
  lines: number,
): Float64Array {
  const places = Math.min(PLACES, length);
  const near = new Float64Array(places);
  const far = new Float64Array(places);
  for (let along = 0; along < length; along++) {
    const place = Math.floor((along * places) / length);
    for (let line = 0; line < lines; line++) {
      near[place] += read(line, along);
      far[place] += read(depth - lines + line, along);
    }
  }
  const spread = SLOW * places;
  const count = (lines * length) / places;
  const most = Math.log(MOST) * 2;
  return Float64Array.from({ length }, (_, along) => {
    let [n, f, all] = [0, 0, 0];
    for (let k = 0; k < places; k++) {
      const weight = Math.exp(-0.5 * (((along * places) / length - k - 0.5) / spread) ** 2);
      n += weight * near[k];
      f += weight * far[k];
      all += weight * count;
    }
    const least = 1e-4 * all;
    return Math.max(-most, Math.min(most, Math.log((n + least) / (f + least))));
  });
}
