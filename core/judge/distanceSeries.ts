import { pixelsPerMetre, type Camera } from "#core/judge/holdsUp";

/** One line of the chart: maps of one density, and points of distance in metres and picture pixels for each texel. */
export interface DistanceLine {
  names: string[];
  points: [distanceM: number, pixelsPerTexel: number][];
}

/** Distances from a quarter of a metre to 64 m, half an octave apart; maps of equal density share a line. */
export function distanceSeries(camera: Camera, maps: { name: string; density: number }[]): DistanceLine[] {
  const byDensity = new Map<number, string[]>();
  for (const { name, density } of maps) {
    const key = Math.round(density * 100) / 100;
    byDensity.set(key, [...(byDensity.get(key) ?? []), name]);
  }
  return [...byDensity].map(([density, names]) => ({
    names,
    points: Array.from({ length: 17 }, (_, i) => {
      const distance = 0.25 * 2 ** (i / 2);
      return [distance, pixelsPerMetre(camera, distance) / density];
    }),
  }));
}
