import type { Repeat } from "#core/length/repeat";
import { resample, type Plane } from "#core/raster/plane";
import { createRaster, type Raster } from "#core/raster/raster";
import { resize } from "#core/raster/resize";
import { transformSize } from "#core/relief/transformSize";

const DIRECTIONS = 12;
/** Each step is longer than the one before: what is far needs no closer look. */
const GROWTH = 1.2;

/**
 * How much of the sky each point of a relief sees, for an image that repeats: the highest horizon within reach is looked
 * for in twelve directions (Max 1988), and a slice of the cosine-weighted hemisphere above a horizon of elevation e is cos² e.
 * @param relief in millimetres
 * @param reachMm how far what stands higher takes sky away
 */
export function occlusionFromHeight(relief: Plane, repeat: Repeat, reachMm: number): Raster {
  const { width, height } = transformSize(relief);
  const { data } = resample(relief, width, height);
  const mm = { x: repeat.width / width, y: repeat.height / height };
  const finest = Math.min(mm.x, mm.y);
  const blocked = new Float32Array(width * height);
  const highest = new Float32Array(width * height);
  for (let direction = 0; direction < DIRECTIONS; direction++) {
    const angle = (2 * Math.PI * direction) / DIRECTIONS;
    highest.fill(0);
    for (let distance = finest; distance <= Math.max(reachMm, finest); distance *= GROWTH) {
      const dx = Math.round((Math.cos(angle) * distance) / mm.x);
      const dy = Math.round((Math.sin(angle) * distance) / mm.y);
      if (dx === 0 && dy === 0) continue;
      const far = Math.hypot(dx * mm.x, dy * mm.y);
      for (let y = 0; y < height; y++) {
        const row = modulo(y + dy, height) * width;
        let x2 = modulo(dx, width);
        for (let x = 0, i = y * width; x < width; x++, i++) {
          const rise = (data[row + x2] - data[i]) / far;
          if (rise > highest[i]) highest[i] = rise;
          if (++x2 === width) x2 = 0;
        }
      }
    }
    for (let i = 0; i < blocked.length; i++) blocked[i] += highest[i] ** 2 / (1 + highest[i] ** 2);
  }
  const out = createRaster(width, height, 1, 8);
  for (let i = 0; i < blocked.length; i++) out.data[i] = Math.round(255 * (1 - blocked[i] / DIRECTIONS));
  return resize(out, relief.width, relief.height, { values: "data", wrap: true });
}

const modulo = (n: number, m: number) => ((n % m) + m) % m;
