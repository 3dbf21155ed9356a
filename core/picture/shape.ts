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
  /** What is seen where it is not, or through it. @param spread the tangent of the angle by which it is blurred */
  behind(x: number, y: number, spread: number): Rgb;
  /** How much of what is clear light goes through. */
  thickMm: number;
  /** How much of a lamp's light gets to a place, past the relief and the shape itself, 0 to 1. */
  reachedBy(hit: Hit, toLamp: Vector): number;
  /** A direction that is said for a surface that faces the eye, in the world. */
  fromFront(direction: Vector): Vector;
}

/** A sheet, a panel and a wall are so thick where they are clear, and the ground lies so far behind them. */
export const CLEAR_MM = 10;
export const GROUND_MM = 100;
export const SQUARE_MM = 50;
export const LIGHT = 0.42;
export const DARK = 0.16;

/** Squares of a chequered ground, by real size: what is clear or cut out is seen by it. @param spread see `Shape.behind` */
export function chequered(x: number, y: number, spread: number): Rgb {
  const reach = spread * GROUND_MM;
  const grey = (LIGHT + DARK) / 2 + ((LIGHT - DARK) / 2) * stripes(x, reach) * stripes(y, reach);
  return [grey, grey, grey];
}

/** 1 on even squares and −1 on odd ones, averaged from `reach` before to `reach` after. */
function stripes(at: number, reach: number): number {
  if (reach < 0.01) return Math.floor(at / SQUARE_MM) % 2 === 0 ? 1 : -1;
  const summed = (to: number) => {
    const within = to - Math.floor(to / (2 * SQUARE_MM)) * 2 * SQUARE_MM;
    return within < SQUARE_MM ? within : 2 * SQUARE_MM - within;
  };
  return (summed(at + reach) - summed(at - reach)) / (2 * reach);
}
