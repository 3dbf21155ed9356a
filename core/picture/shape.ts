import type { Rgb } from "#core/shade/rgb";
import type { Vector } from "#core/shade/vector";

/** Where a pixel looks at. */
export interface Hit {
  /** In repeats from the material's top left corner. */
  u: number;
  v: number;
  /** To the eye. */
  eye: Vector;
  /** The surface's own directions in the world: where the image's right and up lie, and out. */
  frame: { right: Vector; up: Vector; normal: Vector };
  /** In millimetres. */
  place: Vector;
}

/** Something of real size that a material lies on, as one view sees it. */
export interface Shape {
  /** @param x, y in pixels of the view; undefined where it is not */
  hit(x: number, y: number): Hit | undefined;
  /** What is seen where it is not, or through it. */
  behind(x: number, y: number): Rgb;
  /** How much of a lamp's light gets to a place, past the relief and the shape itself, 0 to 1. */
  reachedBy(hit: Hit, toLamp: Vector): number;
  /** A direction that is said for a surface that faces the eye, in the world. */
  fromFront(direction: Vector): Vector;
}

/** Squares of a chequered ground, by real size: what is clear or cut out is seen by it. */
export function chequered(x: number, y: number, side: number): Rgb {
  const isLight = (Math.floor(x / side) + Math.floor(y / side)) % 2 === 0;
  return isLight ? [0.42, 0.42, 0.42] : [0.16, 0.16, 0.16];
}
