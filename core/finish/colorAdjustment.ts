import type { Finish } from "#core/finish/finish";
import { apply, warmthMatrix } from "#core/finish/warmth";
import { hexToLinear, linearToHex } from "#core/raster/srgb";

/** What is done to a colour in linear light, in this order; what is not there changes nothing. */
export interface ColorAdjustment {
  tint?: string;
  warmth?: number;
  brightnessStops?: number;
  gamma?: number;
  contrast?: number;
  saturation?: number;
}

const NEUTRAL: Required<ColorAdjustment> = {
  tint: "#ffffff",
  warmth: 0,
  brightnessStops: 0,
  gamma: 1,
  contrast: 1,
  saturation: 1,
};
const FIELDS = Object.keys(NEUTRAL) as (keyof ColorAdjustment)[];

/** What contrast turns about, in linear light. */
export const MID_GREY = 0.18;

/** How bright red, green and blue are, in linear light: the Y of IEC 61966-2-1. */
export const LUMA: readonly [number, number, number] = [0.2126, 0.7152, 0.0722];

/** What a finish does to the base colour; undefined where that is nothing. */
export function colorAdjustment(finish: Pick<Finish, keyof ColorAdjustment>): ColorAdjustment | undefined {
  const set = FIELDS.filter((field) => {
    const value = finish[field];
    return value !== undefined && String(value).toLowerCase() !== String(NEUTRAL[field]);
  });
  return set.length === 0 ? undefined : Object.fromEntries(set.map((field) => [field, finish[field]]));
}

/** Whether each channel goes its own way, whatever the others are. */
export const isByChannel = ({ warmth, saturation }: ColorAdjustment): boolean =>
  warmth === undefined && saturation === undefined;

/** An adjustment as what is computed with: warmth first, then a gain for each channel, then the curves in their order. */
export function colorCurves(adjustment: ColorAdjustment) {
  const { tint, warmth, brightnessStops, gamma, contrast, saturation } = { ...NEUTRAL, ...adjustment };
  const factor = 2 ** brightnessStops;
  const [r, g, b] = hexToLinear(tint);
  const gains: [number, number, number] = [r * factor, g * factor, b * factor];
  return { gains, warm: warmth === 0 ? undefined : warmthMatrix(warmth), gamma, contrast, saturation };
}

/** The adjustment as a function of linear light; nothing leaves 0..1. */
export function adjusterOf(
  adjustment: ColorAdjustment,
): (color: readonly [number, number, number]) => [number, number, number] {
  const { gains, warm, gamma, contrast, saturation } = colorCurves(adjustment);
  const curved = (value: number) => {
    if (value <= 0) return 0;
    const lightened = gamma === 1 ? value : Math.min(1, value) ** (1 / gamma);
    return contrast === 1 ? lightened : MID_GREY * (lightened / MID_GREY) ** contrast;
  };
  const bounded = (value: number) => Math.min(1, Math.max(0, value));
  return (color) => {
    const lit = warm ? apply(warm, color) : color;
    const [r, g, b] = [curved(lit[0] * gains[0]), curved(lit[1] * gains[1]), curved(lit[2] * gains[2])];
    if (saturation === 1) return [bounded(r), bounded(g), bounded(b)];
    const grey = LUMA[0] * r + LUMA[1] * g + LUMA[2] * b;
    const spread = (value: number) => bounded(grey + (value - grey) * saturation);
    return [spread(r), spread(g), spread(b)];
  };
}

/** `#rrggbb`, adjusted. */
export function adjustedHex(hex: string, adjustment: ColorAdjustment | undefined): string {
  if (!adjustment) return hex.toLowerCase();
  return linearToHex(adjusterOf(adjustment)(hexToLinear(hex)));
}
