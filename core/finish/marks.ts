import { markOf, type WearLayer } from "#core/finish/wear";
import type { Repeat } from "#core/length/repeat";
import { sample, type Texture } from "#core/raster/texture";

/** A wear layer as it is laid on: its marks, and the real size that they have there. */
export interface Laid {
  layer: Pick<WearLayer, "strength" | "polarity" | "turn" | "start" | "effect" | "amountMm" | "tint">;
  texture: Texture;
  size: Repeat;
}

/**
 * How much of a layer there is at a place: strength × mark, 0..1. Beyond a layer that does not repeat there is nothing.
 * @returns a function of millimetres from the material's top left corner, to the right and down
 */
export function marksOf({ layer, texture, size }: Laid): (xMm: number, yMm: number) => number {
  const { strength, polarity, turn = 0, start = { x: 0, y: 0 } } = layer;
  // Exact for quarter turns, which cos and sin are not.
  const cos = turn === 0 ? 1 : turn === 180 ? -1 : 0;
  const sin = turn === 90 ? 1 : turn === 270 ? -1 : 0;
  // A turned layer still begins at its start: its corner is the one that then lies top left.
  const width = turn === 90 || turn === 270 ? size.height : size.width;
  const height = turn === 90 || turn === 270 ? size.width : size.height;
  const [left, top] = [turn === 90 || turn === 180 ? width : 0, turn === 180 || turn === 270 ? height : 0];
  return (xMm, yMm) => {
    const x = xMm - start.x - left;
    const y = yMm - start.y - top;
    const u = (x * cos + y * sin) / size.width;
    const v = (y * cos - x * sin) / size.height;
    if (!texture.wraps && (u < 0 || u > 1 || v < 0 || v > 1)) return 0;
    return strength * markOf(sample(texture, u, v), polarity);
  };
}

/** The size of a layer along the material's edges. */
export const turnedSize = ({ width, height }: Repeat, turn: WearLayer["turn"] = 0): Repeat =>
  turn === 90 || turn === 270 ? { width: height, height: width } : { width, height };
