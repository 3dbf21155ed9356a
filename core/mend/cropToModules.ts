import { Refusal } from "#core/text/refusal";
import { findPitches, PITCH_SEARCH, type Pitches } from "#core/gauge/pitch/findPitches";
import { DIRECTION_WORDS } from "#core/judge/seams";
import { patternWithoutPitch } from "#core/mend/noPitch";
import { lumaOf, type Plane } from "#core/raster/plane";
import { createRaster, type Raster } from "#core/raster/raster";

/** Where an image is cut so that whole modules are left. */
export interface ModuleCrop {
  left: number;
  top: number;
  width: number;
  height: number;
  /** What was found, in pixels and as the number that is left; undefined in a direction that was not asked for. */
  across?: { pitch: number; modules: number };
  down?: { pitch: number; modules: number };
}

/** So much of a module may be missing, and the last one still counts as whole. */
const WHOLE = 0.03;

/**
 * The largest crop that holds a whole number of modules, placed where its edges fit best.
 * @throws {Refusal} where the maps differ in size, or no pitch is found in a direction that was asked for
 */
export function findModuleCrop(maps: Raster[], directions: { across: boolean; down: boolean }): ModuleCrop {
  const [{ width, height }] = maps;
  if (maps.some((map) => map.width !== width || map.height !== height))
    throw new Refusal(
      "The maps differ in size, so one crop cannot serve them all. Bring them to one size first.",
    );
  const planes = maps.map(lumaOf);
  const pitches = findPitches(planes);
  const crop: ModuleCrop = { left: 0, top: 0, width, height };
  if (directions.across) {
    const found = cropOneWay(planes, pitches, "across");
    Object.assign(crop, { left: found.start, width: found.size, across: found });
  }
  if (directions.down) {
    const found = cropOneWay(planes, pitches, "down");
    Object.assign(crop, { top: found.start, height: found.size, down: found });
  }
  return crop;
}

function cropOneWay(planes: Plane[], pitches: Pitches, direction: "across" | "down") {
  const [{ width, height }] = planes;
  const depth = direction === "across" ? width : height;
  const pitch = pitches[direction];
  if (pitch === undefined)
    throw (
      patternWithoutPitch(planes[0], pitches, direction) ??
      new Refusal(
        `Nothing in the picture repeats at a fixed distance from ${DIRECTION_WORDS[direction]}, so there is no pitch to crop to. Mend its seams instead.`,
      )
    );
  // A pattern that is whole already stays as it is.
  const modules = Math.max(1, Math.floor(depth / pitch + WHOLE));
  const guess = Math.min(depth, Math.round(modules * pitch));
  const reach = Math.ceil(depth / PITCH_SEARCH) - 1;
  let best = { size: guess, start: 0, error: Infinity };
  for (let size = guess - reach; size <= Math.min(depth, guess + reach); size++) {
    const { start, error } = bestStart(planes, direction, size);
    if (error < best.error) best = { size, start, error };
  }
  return { start: best.start, size: best.size, pitch: best.size / modules, modules };
}

/** The start at which the crop's last line is most like its first: in a joint, and not through the pieces. */
function bestStart(planes: Plane[], direction: "across" | "down", size: number) {
  const [{ width, height }] = planes;
  const across = direction === "across";
  const [depth, length] = across ? [width, height] : [height, width];
  const [step, stride] = across ? [1, width] : [width, 1];
  const every = Math.max(1, Math.floor(length / 400));
  let best = { start: 0, error: Infinity };
  for (let start = 0; start + size <= depth; start++) {
    let [error, count] = [0, 0];
    const last = start + size - 1;
    for (let along = 0; along < length; along += every)
      for (const { data } of planes) {
        error += (data[last * step + along * stride] - data[start * step + along * stride]) ** 2;
        count++;
      }
    if (error / count < best.error * (1 - 1e-6)) best = { start, error: error / count };
  }
  return best;
}

/** The part of an image that a crop leaves. */
export function cropTo(raster: Raster, { left, top, width, height }: ModuleCrop): Raster {
  const out = createRaster(width, height, raster.channels, raster.bitDepth);
  const row = width * raster.channels;
  for (let y = 0; y < height; y++) {
    const from = ((top + y) * raster.width + left) * raster.channels;
    out.data.set(raster.data.subarray(from, from + row), y * row);
  }
  return out;
}
