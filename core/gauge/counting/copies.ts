import { resample, transposed, type Plane } from "#core/raster/plane";

/** How often a picture holds itself beside itself. */
export interface Copies {
  across: number;
  down: number;
}

/** The same, with how alike the grain is after a part of the picture, less beside it: by the number of parts, from 2 on. */
export interface CopySigns extends Copies {
  alike: { across: number[]; down: number[] };
}

const MOST = 8;
/** Copies have the same grain, less what noise and a JPEG did to each; modules of one kind have not. */
const SAME_GRAIN = 0.55;
/** What is finer than so many samples is grain. */
const GRAIN = 2;
/** So far beside its shift a copy is no longer alike, and by so much. */
const BESIDE = 4;
const SHARP = 0.4;
/** What differs more than so many times the middle difference is no grain. */
const MOST_GRAIN = 2.5;
/** A copy has at least so many samples. */
const LEAST_SAMPLES = 32;

/** Looked at on so many samples a side: grain that is finer than that goes first where a picture is packed. */
const MOST_SIDE = 512;
/** Every so many-th line tells as much as all. */
const STRIDE = 3;

/** Looks for a picture that was laid beside itself, by its grain. @param plane the picture itself, which goes on at its other side */
export function copiesIn(plane: Plane): CopySigns {
  const reduced = Math.max(1, plane.width / MOST_SIDE, plane.height / MOST_SIDE);
  const grain = grainOf(
    resample(plane, Math.round(plane.width / reduced), Math.round(plane.height / reduced)),
  );
  const across = partsOf(grain);
  const down = partsOf(transposed(grain));
  return {
    across: across.copies,
    down: down.copies,
    alike: { across: across.alike, down: down.alike },
  };
}

/** Joints that run along are like themselves after any shift; a copy is so after its own only. */
function partsOf(lines: Plane): { copies: number; alike: number[] } {
  const alike: number[] = [];
  let found = 1;
  for (let copies = 2; copies <= Math.min(MOST, Math.floor(lines.width / LEAST_SAMPLES)); copies++) {
    const shift = lines.width / copies;
    const own = likeness(lines, shift);
    const sharp = own - Math.max(likeness(lines, shift - BESIDE), likeness(lines, shift + BESIDE));
    alike[copies] = Math.min(own, sharp);
    if (own >= SAME_GRAIN && sharp > SHARP) found = copies;
  }
  return { copies: found, alike };
}

/** What is finer than a few samples: the difference to the mean of a cross around each. */
function grainOf({ width, height, data }: Plane): Plane {
  const out = new Float32Array(data.length);
  const columns = Int32Array.from({ length: width + 2 * GRAIN }, (_, x) => (x - GRAIN + width) % width);
  for (let y = 0; y < height; y++) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      let sum = 0;
      for (let k = -GRAIN; k <= GRAIN; k++) sum += data[row + columns[x + k + GRAIN]];
      for (let k = -GRAIN; k <= GRAIN; k++) sum += data[((y + k + height) % height) * width + x];
      out[row + x] = data[row + x] - sum / (4 * GRAIN + 2);
    }
  }
  // Joints are alike in every module, and stand out: cut to what is usual they say no more than the rest.
  const some = out.filter((_, i) => i % 97 === 0).map(Math.abs);
  const limit = MOST_GRAIN * some.sort()[some.length >> 1];
  return {
    width,
    height,
    data: out.map((v) => Math.max(-limit, Math.min(limit, v))),
  };
}

/** Correlation with itself after a shift along the lines, between the samples where it is no whole one. */
function likeness({ width, height, data }: Plane, shift: number): number {
  const [whole, part] = [Math.floor(shift), shift % 1];
  let [ab, aa, bb] = [0, 0, 0];
  for (let y = 0; y < height; y += STRIDE) {
    const row = y * width;
    for (let x = 0; x < width; x++) {
      const a = data[row + x];
      let at = x + whole;
      if (at >= width) at -= width;
      const next = at + 1 === width ? 0 : at + 1;
      const b = (1 - part) * data[row + at] + part * data[row + next];
      ab += a * b;
      aa += a * a;
      bb += b * b;
    }
  }
  const scale = Math.sqrt(aa * bb);
  return scale > 1e-12 * data.length ? ab / scale : 0;
}
