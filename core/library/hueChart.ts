/** The columns of the chart of hues: the greys, and then the hues from warm to cool, as `colorOrder` has them. */
export const HUES = 24;
/** Its rows, from light to dark: L* in as many steps. */
export const LIGHTS = 8;

/** What lies in one field of the chart. */
export interface HueField {
  /** 0 for what has no hue; else 1 to `HUES`, from red over yellow and green to blue and violet. */
  hue: number;
  /** From 0, the lightest. */
  row: number;
  materials: number;
  /** The colour of one of them, `#rrggbb`. */
  hex: string;
}

/** How much of a field is filled, 0..1: areas are as the numbers are, down to a size that can still be pressed. */
export function fieldSide(materials: number, most: number): number {
  const LEAST = 0.62;
  return LEAST + (1 - LEAST) * Math.sqrt(materials / Math.max(1, most));
}
