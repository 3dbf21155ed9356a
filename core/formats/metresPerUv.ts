/** Triangles of one material: three positions in metres and three texture coordinates each. */
export interface UvTriangle {
  positions: [number[], number[], number[]];
  uvs: [number[], number[], number[]];
}

/**
 * How many metres one unit of U and of V cover: for each triangle the lengths of the surface's derivatives by u and v, then their
 * medians by area over all triangles. Null where nothing has an area in both.
 */
export function metresPerUv(triangles: Iterable<UvTriangle>): { u: number; v: number } | null {
  const all: { u: number; v: number; area: number }[] = [];
  for (const {
    positions: [a, b, c],
    uvs: [ta, tb, tc],
  } of triangles) {
    const [e1, e2] = [minus(b, a), minus(c, a)];
    const [du1, dv1, du2, dv2] = [tb[0] - ta[0], tb[1] - ta[1], tc[0] - ta[0], tc[1] - ta[1]];
    const det = du1 * dv2 - du2 * dv1;
    const area = length(cross(e1, e2)) / 2;
    if (!(Math.abs(det) > 1e-12) || !(area > 1e-12)) continue;
    const byU = e1.map((v, i) => (v * dv2 - e2[i] * dv1) / det);
    const byV = e1.map((v, i) => (e2[i] * du1 - v * du2) / det);
    all.push({ u: length(byU), v: length(byV), area });
  }
  if (all.length === 0) return null;
  return { u: medianByArea(all, "u"), v: medianByArea(all, "v") };
}

function medianByArea(all: { u: number; v: number; area: number }[], key: "u" | "v"): number {
  const sorted = all.toSorted((a, b) => a[key] - b[key]);
  const half = sorted.reduce((sum, { area }) => sum + area, 0) / 2;
  let sum = 0;
  for (const one of sorted) {
    sum += one.area;
    if (sum >= half) return one[key];
  }
  return sorted.at(-1)![key];
}

const minus = (a: number[], b: number[]) => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
const cross = (a: number[], b: number[]) => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const length = (v: number[]) => Math.hypot(v[0], v[1], v[2]);
