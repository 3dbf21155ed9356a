/** A direction or a place; directions have length 1. In a surface's own frame z is its normal. */
export type Vector = readonly [number, number, number];

export const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
export const along = (from: Vector, direction: Vector, far: number): Vector => [
  from[0] + direction[0] * far,
  from[1] + direction[1] * far,
  from[2] + direction[2] * far,
];
/** @throws {RangeError} for a vector without length */
export function unit(a: Vector): Vector {
  // Not Math.hypot, which takes several times as long: directions are far from where squares overflow.
  const length = Math.sqrt(a[0] * a[0] + a[1] * a[1] + a[2] * a[2]);
  if (length === 0) throw new RangeError("A vector without length has no direction.");
  return [a[0] / length, a[1] / length, a[2] / length];
}
