import { z } from "zod";
import { hexColorSchema } from "#core/finish/hexColor";

/** What the marks of a wear layer do to the surface under them. */
export const WEAR_EFFECTS = ["rougher", "smoother", "tint", "cut-in", "stand-out"] as const;
export type WearEffect = (typeof WEAR_EFFECTS)[number];

/** Which values of the layer are the marks. */
export const POLARITIES = ["light", "dark"] as const;
export type Polarity = (typeof POLARITIES)[number];

/** More than these lie over nothing. */
export const MOST_WEAR = 10;

/** What a layer begins with: people nearly always start too strong. */
export const FIRST_STRENGTH = 0.25;

const sizeMm = z.number().min(1).max(100_000);
const startMm = z.number().min(-100_000).max(100_000);

/** One layer of stains, scuffs or dust over a finish; the layers apply in their order. */
export const wearLayerSchema = z
  .object({
    /** The material of kind `wear` whose marks these are, in the revision that was taken. */
    material: z.uuid(),
    revision: z.number().int().positive().max(2_147_483_647),
    /** 0 changes nothing. */
    strength: z.number().min(0).max(1),
    polarity: z.enum(POLARITIES),
    effect: z.enum(WEAR_EFFECTS),
    /** How deep or high a full mark is, for what cuts in or stands out. */
    amountMm: z.number().min(0).max(50).optional(),
    /** The colour of a full mark. */
    tint: hexColorSchema.optional(),
    /** Another size than the layer's own. */
    repeat: z.object({ width: sizeMm, height: sizeMm }).strict().optional(),
    /** Clockwise, in quarter turns: so that it still repeats along both edges. */
    turn: z.literal([0, 90, 180, 270]).optional(),
    /** Where its top left corner lies, to the right and down. */
    start: z.object({ x: startMm, y: startMm }).strict().optional(),
    on: z.boolean(),
  })
  .strict()
  .superRefine(({ effect, amountMm, tint }, context) => {
    if (isRelief(effect) && amountMm === undefined)
      context.addIssue({ code: "custom", path: ["amountMm"], message: "Say how many millimetres." });
    if (effect === "tint" && tint === undefined)
      context.addIssue({ code: "custom", path: ["tint"], message: "Say which colour, as #rrggbb." });
  });

export type WearLayer = z.infer<typeof wearLayerSchema>;

export const isRelief = (effect: WearEffect): boolean => effect === "cut-in" || effect === "stand-out";

/** Whether a layer changes anything at all. */
export const isLaid = ({ on, strength, effect, amountMm = 0 }: WearLayer): boolean =>
  on && strength > 0 && (!isRelief(effect) || amountMm > 0);

/** How much of a mark there is, 0..1. */
export const markOf = (value: number, polarity: Polarity): number =>
  polarity === "light" ? value : 1 - value;

/**
 * The roughness under a mark: made rougher it is never smoother than before, made smoother never rougher.
 * @param by strength × mark, 0..1
 */
export const wornRoughness = (roughness: number, effect: "rougher" | "smoother", by: number): number =>
  effect === "rougher" ? 1 - (1 - roughness) * (1 - by) : roughness * (1 - by);

/** Above the surface, in millimetres. @param by strength × mark, 0..1 */
export const wornHeightMm = (
  { effect, amountMm = 0 }: Pick<WearLayer, "effect" | "amountMm">,
  by: number,
): number => (effect === "cut-in" ? -amountMm * by : effect === "stand-out" ? amountMm * by : 0);

/**
 * Which values are the marks, told from how the values of a layer spread: marks are the lesser part of it, so they lie at the side of
 * the ends that is farther from the median.
 * @param values 0..1
 */
export function proposedPolarity(values: ArrayLike<number>): { polarity: Polarity; isSure: boolean } {
  const sorted = Float32Array.from(values).sort();
  const at = (share: number) => sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
  const [below, above] = [at(0.5) - at(0.01), at(0.99) - at(0.5)];
  const polarity = above >= below ? "light" : "dark";
  return { polarity, isSure: Math.max(below, above) > 2 * Math.min(below, above) };
}

/** What a layer does, in a few words: "rougher 0.25", "cut-in 0.5 mm × 0.3". */
export const wearWords = ({ effect, strength, amountMm, tint }: WearLayer): string =>
  isRelief(effect)
    ? `${effect} ${amountMm} mm × ${strength}`
    : `${effect}${effect === "tint" ? ` ${tint}` : ""} ${strength}`;
