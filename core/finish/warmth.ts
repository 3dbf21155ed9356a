/** The white that sRGB means, on the daylight locus. */
const D65_KELVIN = 6504;

type Triple = [number, number, number];
type Matrix = [Triple, Triple, Triple];

/** IEC 61966-2-1: linear sRGB to XYZ, and back. */
const TO_XYZ: Matrix = [
  [0.4124564, 0.3575761, 0.1804375],
  [0.2126729, 0.7151522, 0.072175],
  [0.0193339, 0.119192, 0.9503041],
];
/** The Bradford responses of cones (Lam 1985). */
const TO_CONES: Matrix = [
  [0.8951, 0.2664, -0.1614],
  [-0.7502, 1.7135, 0.0367],
  [0.0389, -0.0685, 1.0296],
];

/**
 * What makes colours look as under daylight of another temperature, for linear sRGB: the Bradford adaptation from D65 along the CIE
 * daylight locus. White keeps its luminance.
 * @param mired to be added to D65's 153.8: above 0 is warmer; from −90 to 90
 */
export function warmthMatrix(mired: number): Matrix {
  const kelvin = 1e6 / (1e6 / D65_KELVIN + mired);
  const [from, to] = [daylight(D65_KELVIN), daylight(kelvin)].map((white) => apply(TO_CONES, white));
  const scale: Matrix = [
    [to[0] / from[0], 0, 0],
    [0, to[1] / from[1], 0],
    [0, 0, to[2] / from[2]],
  ];
  const adapted = product(inverse(TO_CONES), product(scale, TO_CONES));
  return product(inverse(TO_XYZ), product(adapted, TO_XYZ));
}

/** XYZ of daylight with Y = 1 (CIE 15, daylight components). @param kelvin from 4000 to 25 000 */
function daylight(kelvin: number): Triple {
  const [cubic, square, linear, constant] =
    kelvin <= 7000 ? [-4.607e9, 2.9678e6, 99.11, 0.244063] : [-2.0064e9, 1.9018e6, 247.48, 0.23704];
  const x = cubic / kelvin ** 3 + square / kelvin ** 2 + linear / kelvin + constant;
  const y = -3 * x * x + 2.87 * x - 0.275;
  return [x / y, 1, (1 - x - y) / y];
}

export const apply = (m: Matrix, v: readonly [number, number, number]): Triple => [
  m[0][0] * v[0] + m[0][1] * v[1] + m[0][2] * v[2],
  m[1][0] * v[0] + m[1][1] * v[1] + m[1][2] * v[2],
  m[2][0] * v[0] + m[2][1] * v[1] + m[2][2] * v[2],
];

function product(a: Matrix, b: Matrix): Matrix {
  const column = (at: 0 | 1 | 2) => apply(a, [b[0][at], b[1][at], b[2][at]]);
  const [first, second, third] = [column(0), column(1), column(2)];
  return [
    [first[0], second[0], third[0]],
    [first[1], second[1], third[1]],
    [first[2], second[2], third[2]],
  ];
}

function inverse([a, b, c]: Matrix): Matrix {
  const cross = (p: Triple, q: Triple): Triple => [
    p[1] * q[2] - p[2] * q[1],
    p[2] * q[0] - p[0] * q[2],
    p[0] * q[1] - p[1] * q[0],
  ];
  const [u, v, w] = [cross(b, c), cross(c, a), cross(a, b)];
  const determinant = a[0] * u[0] + a[1] * u[1] + a[2] * u[2];
  return [
    [u[0] / determinant, v[0] / determinant, w[0] / determinant],
    [u[1] / determinant, v[1] / determinant, w[1] / determinant],
    [u[2] / determinant, v[2] / determinant, w[2] / determinant],
  ];
}
