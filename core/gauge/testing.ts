import { seededRandom } from "#core/pattern/random";
import type { Plane } from "#core/raster/plane";

export const SIDE = 256;

/** A plane by the value at each place. */
export function painted(value: (x: number, y: number) => number, width = SIDE, height = SIDE): Plane {
  const data = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i++) data[i] = value(x, y);
  return { width, height, data };
}

/** Grain around 0, to be added place by place. */
export function noise(seed: number, strength: number): () => number {
  const random = seededRandom(seed);
  return () => strength * (random() + random() - 1);
}

/** Rows that are 32 px high, with a dark joint of 2 px; every second row may have a fainter one. */
export function rows(strength: number, faint = 1): Plane {
  const grain = noise(3, strength);
  return painted((_, y) => {
    const joint = y % 32 < 2 ? 0.3 * (Math.floor(y / 32) % 2 ? faint : 1) : 0;
    return 0.6 - joint + grain();
  });
}
