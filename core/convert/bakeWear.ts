import type { WearFit } from "#core/finish/finish";
import { turnedSize } from "#core/finish/marks";
import type { WearLayer } from "#core/finish/wear";
import type { Repeat } from "#core/length/repeat";

/** So often at most an image is laid beside itself. */
const MOST_REPEATS = 8;
/** No side of a baked image is longer than this, and it has no more pixels than that. */
const MOST_SIDE = 8192;
const MOST_PIXELS = 36_000_000;
/** From here on a size is as good as kept. */
const KEPT = 0.005;
/** A wear layer that is so much off in size costs as much as half the pixels per metre do. */
const OFF = 0.1;

export interface Pixels {
  width: number;
  height: number;
}

/** A layer that is to be baked: its size, and whether it repeats at all. */
export interface ToBake {
  size: Repeat;
  turn: WearLayer["turn"];
  repeats: boolean;
}

/** How wear is baked: over so many repeats of the material, with these sizes. */
export interface Bake {
  across: number;
  down: number;
  /** What a baked image covers. */
  area: Repeat;
  /** Of one repeat in it. */
  pixels: Pixels;
  /** Of each layer, as it is laid on. */
  sizes: Repeat[];
  /** How far the size of each is off: 0.02 is 2 % too large. */
  errors: { width: number; height: number }[];
  /** Pixels per metre that are left, 1 all of them that the renderer would get without wear. */
  density: number;
}

/**
 * Finds over how many repeats of a material its wear repeats too, near enough.
 * @param material its repeat, and the pixels of one; `repeats` is false for what is placed once: then nothing has to fit
 * @param limit the longest side that the renderer takes
 */
export function bakeWear(
  material: { repeat: Repeat; pixels: Pixels; repeats: boolean },
  layers: readonly ToBake[],
  fit: WearFit,
  limit: number,
): Bake {
  const turned = layers.filter(({ repeats }) => repeats).map(({ size, turn }) => turnedSize(size, turn));
  const across = axis(
    material.repeat.width,
    turned.map(({ width }) => width),
  );
  const down = axis(
    material.repeat.height,
    turned.map(({ height }) => height),
  );
  const alone = baseRatio(material.pixels, limit);
  const density = (a: number, d: number) => tileRatio(material.pixels, limit, a, d) / alone;
  const [a, d] = chosen(fit, material.repeats, across, down, density);
  const ratio = tileRatio(material.pixels, limit, a, d);
  const area = { width: a * material.repeat.width, height: d * material.repeat.height };
  const laid = layers.map(({ size, turn, repeats }) => {
    if (!repeats || !material.repeats) return { size, error: { width: 0, height: 0 } };
    const { width, height } = turnedSize(size, turn);
    const fitted = {
      width: area.width / times(area.width, width),
      height: area.height / times(area.height, height),
    };
    const error = { width: fitted.width / width - 1, height: fitted.height / height - 1 };
    return { size: turnedSize(fitted, turn), error: turnedSize(error, turn) };
  });
  return {
    across: a,
    down: d,
    area,
    pixels: {
      width: Math.max(1, Math.round(material.pixels.width * ratio)),
      height: Math.max(1, Math.round(material.pixels.height * ratio)),
    },
    sizes: laid.map(({ size }) => size),
    errors: laid.map(({ error }) => error),
    density: Math.min(1, density(a, d)),
  };
}

/** How often something fits into a length, at least once. */
const times = (length: number, size: number): number => Math.max(1, Math.round(length / size));

/** How far the worst layer is off along one edge, for one repeat, two, three … */
const axis = (repeat: number, sizes: number[]): number[] =>
  Array.from({ length: MOST_REPEATS }, (_, i) => {
    const length = (i + 1) * repeat;
    return Math.max(0, ...sizes.map((size) => Math.abs(length / times(length, size) / size - 1)));
  });

/** What is left of a side where the renderer gets one repeat in an image. */
const baseRatio = ({ width, height }: Pixels, limit: number): number =>
  Math.min(1, limit / Math.max(width, height));

/** The same where it gets several in one. */
export const tileRatio = ({ width, height }: Pixels, limit: number, across: number, down: number): number =>
  across * down === 1
    ? baseRatio({ width, height }, limit)
    : Math.min(
        1,
        Math.min(limit, MOST_SIDE) / Math.max(across * width, down * height),
        Math.sqrt(MOST_PIXELS / (across * down * width * height)),
      );

function chosen(
  fit: WearFit,
  repeats: boolean,
  across: number[],
  down: number[],
  density: (across: number, down: number) => number,
): [across: number, down: number] {
  if (!repeats || fit === "pixels") return [1, 1];
  if (fit === "wear-size") return [truest(across), truest(down)];
  let best: [number, number] = [1, 1];
  let least = Infinity;
  for (const [i, offAcross] of across.entries())
    for (const [j, offDown] of down.entries()) {
      const [a, d] = [i + 1, j + 1];
      const cost =
        (offAcross / OFF) ** 2 +
        (offDown / OFF) ** 2 +
        2 * Math.log2(1 / Math.min(1, density(a, d))) +
        0.6 * Math.log2(a * d);
      if (cost < least) [best, least] = [[a, d], cost];
    }
  return best;
}

/** The fewest repeats that keep the size, or else those that come nearest to it. */
function truest(errors: number[]): number {
  const kept = errors.findIndex((error) => error <= KEPT);
  return (kept >= 0 ? kept : errors.indexOf(Math.min(...errors))) + 1;
}
