/** Linear light, Rec. 709 primaries, D65. */
export type Rgb = readonly [number, number, number];

export const BLACK: Rgb = [0, 0, 0];
export const WHITE: Rgb = [1, 1, 1];

export const scaled = (a: Rgb, by: number): Rgb => [a[0] * by, a[1] * by, a[2] * by];
export const times = (a: Rgb, b: Rgb): Rgb => [a[0] * b[0], a[1] * b[1], a[2] * b[2]];
export const plus = (a: Rgb, b: Rgb): Rgb => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
/** From a at 0 to b at 1. */
export const mixed = (a: Rgb, b: Rgb, at: number): Rgb => [
  a[0] + (b[0] - a[0]) * at,
  a[1] + (b[1] - a[1]) * at,
  a[2] + (b[2] - a[2]) * at,
];
/** Y of the 2° observer (IEC 61966-2-1). */
export const luminance = (a: Rgb): number => 0.2126 * a[0] + 0.7152 * a[1] + 0.0722 * a[2];
