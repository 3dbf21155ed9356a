/**
 * Perceptual roughness that looks like a paint of a sheen in gloss units at 60° (ISO 2813). No formula leads from one
 * to the other, because gloss is one figure for the peak and the width of the highlight; this goes along points that are
 * usual for the names of sheens: dead matt 2, matt 10, eggshell 20, satin 40, semi-gloss 60, gloss 85.
 */
const POINTS: [number, number][] = [
  [0, 1],
  [2, 0.9],
  [10, 0.7],
  [20, 0.55],
  [40, 0.4],
  [60, 0.28],
  [85, 0.12],
  [100, 0.04],
];

export function roughnessOfSheen(glossUnits: number): number {
  const at = Math.min(100, Math.max(0, glossUnits));
  const next = POINTS.findIndex(([units]) => units >= at);
  if (next === 0) return POINTS[0][1];
  const [fromUnits, from] = POINTS[next - 1];
  const [toUnits, to] = POINTS[next];
  return Math.round((from + ((to - from) * (at - fromUnits)) / (toUnits - fromUnits)) * 1000) / 1000;
}
