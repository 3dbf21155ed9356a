import { z } from "zod";
import { CONDITIONS, lightSchema, type Condition, type Light as Values } from "#core/picture/condition";
import { formatLength } from "#core/length/formatLength";
import { SHAPES } from "#core/picture/view";

/** A condition that can be chosen. */
export interface OfferedCondition {
  id: string;
  name: string;
  light: Values;
}

/** From how narrow to how wide a shape may be, in millimetres. */
export const WIDTHS = { block: [20, 5000], wall: [300, 30_000] } as const;

const setLightSchema = z.object({
  /** Id of a condition. */
  named: z.string(),
  /** In place of the condition's own values. */
  changed: lightSchema.partial(),
  shape: z.enum(SHAPES),
  cards: z.boolean(),
  /** How wide the block is, and the wall, in millimetres. */
  wide: z.object({
    block: z.number().min(WIDTHS.block[0]).max(WIDTHS.block[1]),
    wall: z.number().min(WIDTHS.wall[0]).max(WIDTHS.wall[1]),
  }),
});

/** The light and the shape that are looked at, as somebody has set them. */
export type SetLight = z.infer<typeof setLightSchema>;

export const FIRST_LIGHT: SetLight = {
  named: "studio",
  changed: {},
  shape: "panel",
  cards: false,
  wide: { block: 600, wall: 4000 },
};

/** What was kept as text; the first one where that is nothing, or of another time. */
export function keptLight(text: string | null): SetLight {
  try {
    return setLightSchema.parse(JSON.parse(text ?? ""));
  } catch {
    return FIRST_LIGHT;
  }
}

/** Those that everybody has. */
export const SHIPPED: OfferedCondition[] = Object.entries(CONDITIONS).map(([id, { name, ...light }]) => ({
  id,
  name,
  light,
}));

/** The condition that is meant, and how the title block says it. One that is gone is the first one. */
export function conditionOf(
  { named, changed }: SetLight,
  own: readonly OfferedCondition[],
): { condition: Condition; words: string; chosen: OfferedCondition; isChanged: boolean } {
  const chosen = [...SHIPPED, ...own].find(({ id }) => id === named) ?? SHIPPED[0];
  const light: Values = { ...chosen.light, ...changed };
  const differs = (...fields: (keyof Values)[]) =>
    fields.some((field) => light[field] !== chosen.light[field]);
  const { exposureStops: stops, lampAbove, lampShare } = light;
  const words = [
    chosen.name,
    ...(differs("environment", "environmentTurn") ? ["another environment"] : []),
    ...(differs("lampAbove") ? [`lamp ${lampAbove}° above`] : []),
    ...(differs("lampAround") ? [`lamp from ${light.lampAround}°`] : []),
    ...(differs("lampShare") ? [`lamp ${Math.round(lampShare * 100)} %`] : []),
    ...(differs("behind")
      ? [light.behind > 0 ? `${light.behind} × from behind` : "nothing from behind"]
      : []),
    ...(stops !== 0
      ? [`${stops > 0 ? "+" : "−"}${Math.abs(stops)} ${Math.abs(stops) === 1 ? "stop" : "stops"}`]
      : []),
    ...(differs("ground") ? [`${light.ground} ground`] : []),
    ...(light.tone === "neutral" ? ["neutral curve"] : []),
  ].join(", ");
  return {
    condition: { name: chosen.name, ...light },
    words,
    chosen,
    isChanged: differs(...(Object.keys(light) as (keyof Values)[])),
  };
}

/** How a shape is called, with its real size. */
export const shapeWords = ({ shape, wide }: SetLight): string =>
  shape === "block" || shape === "wall" ? `a ${shape} ${formatLength(wide[shape], "m")} wide` : `a ${shape}`;
