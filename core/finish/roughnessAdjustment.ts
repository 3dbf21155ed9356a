import type { Finish } from "#core/finish/finish";

/** What is done to a roughness, in this order. */
export interface RoughnessAdjustment {
  scale: number;
  shift: number;
  low: number;
  high: number;
}

/** What a finish does to its roughness; undefined where that is nothing. */
export function roughnessAdjustment({
  roughnessScale: scale = 1,
  roughnessShift: shift = 0,
  roughnessRange: [low, high] = [0, 1],
}: Pick<Finish, "roughnessScale" | "roughnessShift" | "roughnessRange">): RoughnessAdjustment | undefined {
  return scale === 1 && shift === 0 && low === 0 && high === 1 ? undefined : { scale, shift, low, high };
}

/** @param roughness 0..1 */
export const adjustedRoughness = (roughness: number, adjustment: RoughnessAdjustment | undefined): number =>
  adjustment
    ? Math.min(adjustment.high, Math.max(adjustment.low, roughness * adjustment.scale + adjustment.shift))
    : roughness;
