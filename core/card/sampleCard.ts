import { GREYS, middleOf, PATCHES, PATCH_SIDE, GRID, REST_ALBEDO, type Patch } from "#core/card/layout";
import { project, type Homography } from "#core/photo/homography";
import type { Raster } from "#core/raster/raster";
import { linearTable } from "#core/raster/srgb";

/** Samples of a part of a patch: what a matt grey would reflect that looks the same beside it, in red, green and blue. */
export type Samples = readonly (readonly [number, number, number])[];

export interface SampledCard {
  /** @param part of the patch, from 0 to 1 to the right and down; less its rim unless given */
  read(id: string, part?: Part): Samples;
  /** Of the greys, how many are cut off by the exposure. */
  cutOff: number;
}

interface Part {
  left: number;
  right: number;
  top: number;
  bottom: number;
}
const INNER: Part = { left: 0.1, right: 0.9, top: 0.1, bottom: 0.9 };
const STEPS = 20;

const BY_ID = new Map(PATCHES.map((patch) => [patch.id, patch]));

/**
 * Reads a card by its own greys: whatever light, exposure and tone curve made of a grey, they made of everything else. What is
 * brighter on one side of the card is evened out by what lies at rest around each patch.
 */
export function sampleCard(picture: Raster, toPicture: Homography): SampledCard {
  const table = linearTable(picture.bitDepth);
  const pixelAt = (u: number, v: number): [number, number, number] => {
    const at = project(toPicture, { x: u, y: v });
    return bilinear(picture, table, at.x - 0.5, at.y - 0.5);
  };
  const samplesOf = (patch: Patch, { left, right, top, bottom }: Part) => {
    const middle = middleOf(patch);
    const out: [number, number, number][] = [];
    for (let j = 0; j < STEPS; j++)
      for (let i = 0; i < STEPS; i++)
        out.push(
          pixelAt(
            middle.x + (left + ((i + 0.5) / STEPS) * (right - left) - 0.5) * PATCH_SIDE,
            middle.y + (top + ((j + 0.5) / STEPS) * (bottom - top) - 0.5) * PATCH_SIDE,
          ),
        );
    return out;
  };
  const around = (patch: Patch) => {
    const middle = middleOf(patch);
    const out: [number, number, number][] = [];
    const far = GRID.pitch / 2;
    for (let step = 0; step < STEPS; step++) {
      const along = ((step + 0.5) / STEPS - 0.5) * PATCH_SIDE;
      for (const [x, y] of [
        [along, -far],
        [along, far],
        [-far, along],
        [far, along],
      ])
        out.push(pixelAt(middle.x + x, middle.y + y));
    }
    return meanOf(out);
  };
  const greys = GREYS.map(({ albedo }, at) => {
    const patch = BY_ID.get(`grey ${at}`)!;
    return { albedo, light: meanOf(samplesOf(patch, INNER)) };
  });
  const curves = [0, 1, 2].map((channel) =>
    curveOf(greys.map(({ albedo, light }) => ({ albedo, light: light[channel] }))),
  );
  const albedoOf = (light: readonly number[]) =>
    [0, 1, 2].map((channel) => curves[channel](light[channel])) as [number, number, number];
  const [, , last] = greys.at(-1)!.light;
  return {
    cutOff: greys.filter(({ light }) => light[2] * LIGHTER > last).length - 1,
    read(id, part = INNER) {
      const patch = BY_ID.get(id)!;
      const rest = albedoOf(around(patch));
      const evened = (value: number, channel: number) =>
        (value * REST_ALBEDO) / Math.max(0.02, rest[channel]);
      return samplesOf(patch, part).map((light) => {
        const albedo = albedoOf(light);
        return [evened(albedo[0], 0), evened(albedo[1], 1), evened(albedo[2], 2)];
      });
    },
  };
}

export const meanOf = (samples: readonly (readonly [number, number, number])[]): [number, number, number] => {
  const sum: [number, number, number] = [0, 0, 0];
  for (const sample of samples) for (const c of [0, 1, 2] as const) sum[c] += sample[c] / samples.length;
  return sum;
};

const LIGHTER = 1.04;

/** From light in the picture to the grey that shows it: straight between the greys, and on beyond them. */
function curveOf(points: { albedo: number; light: number }[]): (light: number) => number {
  const rising: typeof points = [];
  for (const point of points)
    // Greys that look alike are cut off by the exposure: what lies between them is noise.
    if (point.light > (rising.at(-1)?.light ?? -1) * LIGHTER) rising.push(point);
  if (rising.length < 2) return () => 0;
  return (light) => {
    let at = 1;
    while (at < rising.length - 1 && light > rising[at].light) at++;
    const [a, b] = [rising[at - 1], rising[at]];
    return Math.max(0, a.albedo + ((light - a.light) / (b.light - a.light)) * (b.albedo - a.albedo));
  };
}

function bilinear(
  { width, height, channels, data }: Raster,
  table: Float32Array,
  x: number,
  y: number,
): [number, number, number] {
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  const out: [number, number, number] = [0, 0, 0];
  for (const [dx, dy, weight] of [
    [0, 0, (1 - fx) * (1 - fy)],
    [1, 0, fx * (1 - fy)],
    [0, 1, (1 - fx) * fy],
    [1, 1, fx * fy],
  ]) {
    const px = Math.min(width - 1, Math.max(0, x0 + dx));
    const py = Math.min(height - 1, Math.max(0, y0 + dy));
    const from = (py * width + px) * channels;
    for (const c of [0, 1, 2] as const) out[c] += weight * table[data[from + (channels < 3 ? 0 : c)]];
  }
  return out;
}
