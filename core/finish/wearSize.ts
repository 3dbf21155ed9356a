import type { WornLayer } from "#core/finish/material";
import type { Repeat } from "#core/length/repeat";

/** What is laid on without a size of its own is taken for so wide. */
const GUESSED_MM = 1000;

/** The size that a layer is laid on with, and whether it is more than a guess. */
export function wearSize({ layer, repeat, sizeState, mask }: Omit<WornLayer, "code" | "name" | "layout">): {
  size: Repeat;
  isAssumed: boolean;
} {
  if (layer.repeat) return { size: layer.repeat, isAssumed: false };
  if (repeat) return { size: repeat, isAssumed: sizeState === "assumed" };
  return { size: { width: GUESSED_MM, height: (GUESSED_MM * mask.height) / mask.width }, isAssumed: true };
}
