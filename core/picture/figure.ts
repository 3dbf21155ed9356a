/** Half of an outline from the shoulders down to the floor, in millimetres from the figure's axis; the other half mirrors it. */
export const HALF_FIGURE: readonly (readonly [x: number, y: number])[] = [
  [55, 1485],
  [60, 1450],
  [150, 1415],
  [200, 1370],
  [222, 1250],
  [238, 1080],
  [250, 900],
  [252, 800],
  [232, 755],
  [212, 790],
  [200, 950],
  [172, 1120],
  [168, 980],
  [178, 860],
  [170, 620],
  [142, 400],
  [128, 120],
  [150, 20],
  [148, 0],
  [45, 0],
  [50, 100],
  [42, 400],
  [22, 700],
  [0, 760],
  [0, 1485],
];
export const HEAD = { y: 1578, halfWidth: 83, halfHeight: 122 };
export const FIGURE_MM = 1700;

/** Whether a place lies within a flat standing figure of 1.7 m, cut like the ones that architects put into drawings. @param x from its axis */
export function isInFigure(x: number, y: number): boolean {
  if ((x / HEAD.halfWidth) ** 2 + ((y - HEAD.y) / HEAD.halfHeight) ** 2 <= 1) return true;
  const across = Math.abs(x);
  let inside = false;
  for (let i = 0, j = HALF_FIGURE.length - 1; i < HALF_FIGURE.length; j = i++) {
    const [xi, yi] = HALF_FIGURE[i];
    const [xj, yj] = HALF_FIGURE[j];
    if (yi > y !== yj > y && across < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}
