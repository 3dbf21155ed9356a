/** How much there is of each of three parts of a light. */
export interface Amounts {
  amounts: [number, number, number];
  /** Sum of the squares of what is left unexplained. */
  squares: number;
}

/** Sums of products that least squares of three amounts take: of each two columns, of each with the lights, and of those. */
export const PRODUCTS = 10;

/** Adds, so many times, what amounts of 1 of each would make of a light, and that light. */
export function addRow(sums: Float64Array, x: number, y: number, z: number, light: number, times: number) {
  sums[0] += times * x * x;
  sums[1] += times * y * y;
  sums[2] += times * z * z;
  sums[3] += times * x * y;
  sums[4] += times * y * z;
  sums[5] += times * x * z;
  sums[6] += times * x * light;
  sums[7] += times * y * light;
  sums[8] += times * z * light;
  sums[9] += times * light * light;
}

/** Parts that are so much alike cannot be told apart. */
const LEAST_APART = 1e-9;
const PAIRS = [
  [0, 1],
  [1, 2],
  [0, 2],
] as const;

/** Least squares of three amounts, each 0 or more. @param sums as `addRow` made them */
export function leastSquares(sums: Float64Array): Amounts {
  const [xx, yy, zz, xy, yz, xz, xl, yl, zl, total] = sums;
  // All three by Cramer's rule: where none is less than 0, nothing fits better.
  const determinant = xx * (yy * zz - yz * yz) - xy * (xy * zz - yz * xz) + xz * (xy * yz - yy * xz);
  if (determinant > LEAST_APART * xx * yy * zz) {
    const x = (xl * (yy * zz - yz * yz) - xy * (yl * zz - yz * zl) + xz * (yl * yz - yy * zl)) / determinant;
    const y = (xx * (yl * zz - yz * zl) - xl * (xy * zz - yz * xz) + xz * (xy * zl - yl * xz)) / determinant;
    const z = (xx * (yy * zl - yl * yz) - xy * (xy * zl - yl * xz) + xl * (xy * yz - yy * xz)) / determinant;
    if (x >= 0 && y >= 0 && z >= 0)
      return { amounts: [x, y, z], squares: Math.max(0, total - x * xl - y * yl - z * zl) };
  }
  // Otherwise the best of two of them, or of one.
  const [own, right, shared] = [
    [xx, yy, zz],
    [xl, yl, zl],
    [xy, yz, xz],
  ];
  let best: Amounts = { amounts: [0, 0, 0], squares: total };
  const offer = (i: number, a: number, j: number, b: number) => {
    const squares = Math.max(0, total - a * right[i] - b * right[j]);
    if (!(a >= 0 && b >= 0 && squares < best.squares)) return;
    const amounts: Amounts["amounts"] = [0, 0, 0];
    amounts[j] = b;
    amounts[i] = a;
    best = { amounts, squares };
  };
  for (const [pair, [i, j]] of PAIRS.entries()) {
    const apart = own[i] * own[j] - shared[pair] ** 2;
    if (apart > LEAST_APART * own[i] * own[j])
      offer(
        i,
        (right[i] * own[j] - shared[pair] * right[j]) / apart,
        j,
        (own[i] * right[j] - shared[pair] * right[i]) / apart,
      );
  }
  for (const i of [0, 1, 2]) if (own[i] > 0) offer(i, right[i] / own[i], (i + 1) % 3, 0);
  return best;
}
