/**
 * Gloss units at 60° (ISO 2813) and the roughness that a paint of index 1.5 has with them, as `roughnessOfGloss` finds it by measuring;
 * that takes long, so that it is written down here, and a test measures it again.
 */
const POINTS: [number, number][] = [
  [0, 1],
  [1, 0.646],
  [2, 0.55],
  [3, 0.498],
  [4, 0.462],
  [6, 0.412],
  [8, 0.378],
  [10, 0.353],
  [15, 0.304],
  [20, 0.272],
  [25, 0.246],
  [30, 0.225],
  [40, 0.193],
  [50, 0.167],
  [60, 0.144],
  [70, 0.122],
  [80, 0.096],
  [85, 0.077],
  [90, 0.02],
  [100, 0.01],
];

/** Perceptual roughness of a paint with so many gloss units. */
export function roughnessOfSheen(glossUnits: number): number {
  const at = Math.min(100, Math.max(0, glossUnits));
  const next = POINTS.findIndex(([units]) => units >= at);
  if (next === 0) return POINTS[0][1];
  const [fromUnits, from] = POINTS[next - 1];
  const [toUnits, to] = POINTS[next];
  return Math.round((from + ((to - from) * (at - fromUnits)) / (toUnits - fromUnits)) * 1000) / 1000;
}
