import { Refusal } from "#core/text/refusal";
import { cutSeam } from "#core/mend/cutSeam";
import { findPitches, PITCH_SEARCH, type Pitches } from "#core/gauge/pitch/findPitches";
import { readSeams, SEAM_LOOK } from "#core/judge/seams";
import { patternWithoutPitch } from "#core/mend/noPitch";
import { findOverlap, MOST_GIVEN_UP, refineOverlap } from "#core/mend/findOverlap";
import { levelEdges } from "#core/mend/levelEdges";
import { lumaOf, resample, type Plane } from "#core/raster/plane";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";
import { linearTable, linearToSrgb } from "#core/raster/srgb";

/** One map to mend, with how its values are mixed where the two edges meet. */
export interface MapToMend {
  raster: Raster;
  values: "srgb" | "data" | "normal";
}

export interface Mended {
  maps: Raster[];
  /** Lines given up across and down; 0 where that direction was left as it is. */
  overlap: { across: number; down: number };
}

/** Side of the reduced image in which the overlap is looked for. */
const SEARCH = 256;
/** Half the width of the mix along the cut, as a share of the overlap, in pixels at most. */
const FEATHER = 6;

/**
 * Makes maps repeat: opposite edges are laid over each other where they are most alike, and joined along the cut that shows
 * least in all maps together. All maps get the same overlap and the same cut, so that they stay together. The image gets
 * smaller by the overlap, and so does its repeat.
 * @throws {Refusal} where the maps differ in size or are too small
 */
export function mendSeams(maps: MapToMend[], directions: { across: boolean; down: boolean }): Mended {
  const [first] = maps;
  for (const { raster } of maps)
    if (raster.width !== first.raster.width || raster.height !== first.raster.height)
      throw new Refusal(
        "The maps differ in size, so one cut cannot serve them all. Bring them to one size first.",
      );
  if (Math.min(first.raster.width, first.raster.height) < 48)
    throw new Refusal("An image under 48 px has no room for a mend.");
  let mended = maps.map(({ raster }) => raster);
  const seams = maps.map(({ raster, values }) => readSeams(raster, values === "srgb" ? "color" : values));
  const pitches = findPitches(mended.map(lumaOf));
  const overlap = { across: 0, down: 0 };
  for (const direction of ["across", "down"] as const) {
    if (!directions[direction]) continue;
    const result = mendOneWay(
      mended.map((raster, i) => ({ raster, values: maps[i].values })),
      direction,
      pitches,
      seams.every((reading) => reading[direction].broken < SEAM_LOOK),
    );
    mended = result.maps;
    overlap[direction] = result.lines;
  }
  if (overlap.across + overlap.down === 0)
    throw new Refusal(
      "What repeats in it comes out even already: there is nothing to join. If a step of light shows, even out light and dark.",
    );
  return { maps: mended, overlap };
}

/** @param continues whether no map shows a seam: what then comes out even in a pattern is left as it is */
function mendOneWay(
  maps: MapToMend[],
  direction: "across" | "down",
  pitches: Pitches,
  continues: boolean,
): { maps: Raster[]; lines: number } {
  const planes = maps.map(({ raster }) => lumaOf(raster));
  const { width, height } = planes[0];
  const depth = direction === "across" ? width : height;
  const lattice = overlapOnLattice(pitches[direction], direction, depth, continues);
  if (lattice === 0) return { maps: maps.map(({ raster }) => raster), lines: 0 };
  if (lattice !== undefined) {
    const reach = Math.min(lattice - 2, Math.max(1, Math.ceil(Math.max(width, height) / PITCH_SEARCH) - 1));
    return cutAndJoin(maps, direction, refineOverlap(planes, direction, lattice, reach).lines);
  }
  const reason = patternWithoutPitch(planes[0], pitches, direction);
  if (reason) throw reason;
  const ratio = Math.max(1, depth / SEARCH);
  const reduced = planes.map((plane) =>
    resample(plane, Math.max(24, Math.round(width / ratio)), Math.max(24, Math.round(height / ratio))),
  );
  const guess = Math.round(findOverlap(reduced, direction).lines * ratio);
  const { lines } =
    ratio === 1 ? { lines: guess } : refineOverlap(planes, direction, guess, Math.ceil(ratio * 1.5));
  return cutAndJoin(maps, direction, lines);
}

function cutAndJoin(maps: MapToMend[], direction: "across" | "down", lines: number) {
  const level = maps.map(({ raster, values }) => ({
    raster: values === "srgb" ? levelEdges(raster, direction, lines) : raster,
    values,
  }));
  const planes = level.map(({ raster }) => lumaOf(raster));
  const cut = cutSeam(errorOf(planes, direction, lines));
  return { maps: level.map((map) => joined(map, direction, lines, cut)), lines };
}

/** The least overlap that a cut finds its way in, as a share of the picture. */
const NARROWEST = 1 / 64;
/** So much of a repeat may be left over, and they come out even: a pitch is known to about a hundredth. */
const EVEN = 0.04;

/**
 * In a pattern, the overlap that leaves whole repeats of it, bond and all, however alike the edges are at another one: 0 where
 * they come out even in a picture that continues; undefined in a surface that repeats at no fixed distance.
 * @throws {Refusal} where too much would have to be given up
 */
function overlapOnLattice(
  pitch: number | undefined,
  direction: "across" | "down",
  depth: number,
  continues: boolean,
): number | undefined {
  if (pitch === undefined) return undefined;
  const held = depth / pitch;
  if (continues && held > 1 - EVEN && Math.abs(held - Math.round(held)) < EVEN) return 0;
  const least = Math.max(4, depth * NARROWEST);
  const repeats = Math.floor((depth - least) / pitch);
  const lines = Math.round(depth - repeats * pitch);
  if (repeats < 1 || lines > MOST_GIVEN_UP * depth)
    throw new Refusal(
      `What repeats in it measures ${Math.round(pitch)} px ${direction === "across" ? "from left to right" : "from top to bottom"}, and the picture has ${depth}: to leave whole repeats, more than a third would have to be given up. ${repeats < 1 ? "Take" : "Crop it to whole modules, or take"} a larger picture of the surface.`,
    );
  return lines;
}

/** What changing over costs at each place of the overlap: the difference of the two edges in all maps, each by its own spread. */
function errorOf(planes: Plane[], direction: "across" | "down", lines: number): Plane {
  const [{ width, height }] = planes;
  const across = direction === "across";
  const [length, depth] = across ? [height, width] : [width, height];
  const data = new Float32Array(lines * length);
  for (const plane of planes) {
    const own = new Float32Array(lines * length);
    let sum = 0;
    for (let along = 0; along < length; along++)
      for (let line = 0; line < lines; line++) {
        const near = across ? along * width + line : line * width + along;
        const far = across ? along * width + depth - lines + line : (depth - lines + line) * width + along;
        const error = (plane.data[near] - plane.data[far]) ** 2;
        own[along * lines + line] = error;
        sum += error;
      }
    const scale = sum > 0 ? own.length / sum : 0;
    for (let i = 0; i < data.length; i++) data[i] += own[i] * scale;
  }
  // A change at the very rim of the overlap would leave the old edge where it is.
  for (let along = 0; along < length; along++) {
    data[along * lines] += 1e3;
    data[along * lines + lines - 1] += 1e3;
  }
  return { width: lines, height: length, data };
}

/** The image without its last lines; its first ones are joined from both edges along the cut. */
function joined(
  { raster, values }: MapToMend,
  direction: "across" | "down",
  lines: number,
  cut: Int32Array,
): Raster {
  const { width, height, channels } = raster;
  const across = direction === "across";
  const out = across
    ? createRaster(width - lines, height, channels, raster.bitDepth)
    : createRaster(width, height - lines, channels, raster.bitDepth);
  const depth = across ? width : height;
  const feather = Math.min(FEATHER, Math.max(1, Math.floor(lines / 6)));
  const mix = mixerFor(raster, values);
  for (let y = 0; y < out.height; y++)
    for (let x = 0; x < out.width; x++) {
      const [line, along] = across ? [x, y] : [y, x];
      const o = (y * out.width + x) * channels;
      const near = (y * width + x) * channels;
      if (line >= lines) {
        for (let c = 0; c < channels; c++) out.data[o + c] = raster.data[near + c];
        continue;
      }
      const farLine = depth - lines + line;
      const far = (across ? y * width + farLine : farLine * width + x) * channels;
      // Before the cut the far edge goes on; after it the near edge has begun.
      const share = Math.min(1, Math.max(0, 0.5 + (line - cut[along]) / (2 * feather)));
      mix(far, near, share, out.data, o);
    }
  return out;
}

/** Mixes two samples of an image: colours in linear light, vectors renormalised, data as it is. */
function mixerFor({ data, channels, ...raster }: Raster, values: MapToMend["values"]) {
  const max = maxValue({ bitDepth: raster.bitDepth });
  const table = linearTable(raster.bitDepth);
  return (a: number, b: number, share: number, out: Raster["data"], o: number): void => {
    if (share <= 0 || share >= 1) {
      const from = share <= 0 ? a : b;
      for (let c = 0; c < channels; c++) out[o + c] = data[from + c];
      return;
    }
    if (values === "normal" && channels >= 3) {
      const n = [0, 1, 2].map((c) => ((1 - share) * data[a + c] + share * data[b + c]) * (2 / max) - 1);
      const length = Math.hypot(...n) || 1;
      for (let c = 0; c < 3; c++) out[o + c] = Math.round((n[c] / length / 2 + 0.5) * max);
      if (channels === 4) out[o + 3] = Math.round((1 - share) * data[a + 3] + share * data[b + 3]);
      return;
    }
    for (let c = 0; c < channels; c++) {
      const color = values === "srgb" && (channels < 3 ? c === 0 : c < 3);
      out[o + c] = color
        ? Math.round(max * linearToSrgb((1 - share) * table[data[a + c]] + share * table[data[b + c]]))
        : Math.round((1 - share) * data[a + c] + share * data[b + c]);
    }
  };
}
