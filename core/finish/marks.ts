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
  const { strength, polarity } = layer;
  const corner = turnedCorner({ layer, size });
  const { cos, sin } = turnOf(layer.turn);
  return (xMm, yMm) => {
    const x = xMm - corner.x;
    const y = yMm - corner.y;
    const u = (x * cos + y * sin) / size.width;
    const v = (y * cos - x * sin) / size.height;
    if (!texture.wraps && (u < 0 || u > 1 || v < 0 || v > 1)) return 0;
    return strength * markOf(sample(texture, u, v), polarity);
  };
}

/** Exact for quarter turns, which the functions of angles are not. */
export const turnOf = (turn: WearLayer["turn"] = 0): { cos: number; sin: number } => ({
  cos: turn === 0 ? 1 : turn === 180 ? -1 : 0,
  sin: turn === 90 ? 1 : turn === 270 ? -1 : 0,
});

/** Where a layer's own corner lies, in millimetres: turned, it still begins at its start, with another corner. */
export function turnedCorner({ layer, size }: { layer: Pick<WearLayer, "turn" | "start">; size: Repeat }): {
  x: number;
  y: number;
} {
  const { turn = 0, start = { x: 0, y: 0 } } = layer;
  const { width, height } = turnedSize(size, turn);
  return {
    x: start.x + (turn === 90 || turn === 180 ? width : 0),
    y: start.y + (turn === 180 || turn === 270 ? height : 0),
  };
}

/** The size of a layer along the material's edges. */
export const turnedSize = ({ width, height }: Repeat, turn: WearLayer["turn"] = 0): Repeat =>
  turn === 90 || turn === 270 ? { width: height, height: width } : { width, height };
