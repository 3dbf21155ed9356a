/** Left to right, and top to bottom. */
export const DIRECTIONS = ["across", "down"] as const;

export type Direction = (typeof DIRECTIONS)[number];
