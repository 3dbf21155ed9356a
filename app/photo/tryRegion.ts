import type { Point } from "#core/gauge/repeat";
import { HomographyError, homographyOf, project } from "#core/photo/homography";
import { unbowed } from "#core/photo/lens";
import { flatSize, flattening, RegionError } from "#core/photo/region";
import type { readRegion, RegionFields } from "./readRegion";

interface Size {
  width: number;
  height: number;
}

export interface Tried {
  /** The region on the surface, in mm. */
  flat?: { toPhoto(real: Point): Point; width: number; height: number };
  trouble?: string;
  residuals: number[];
  size?: { width: number; height: number };
}

/** The region as far as it goes: before its size is typed, only its corners are checked, on a unit square. */
export function tryRegion(fields: RegionFields, reading: ReturnType<typeof readRegion>, photo: Size): Tried {
  if ("field" in reading) return { trouble: reading.message, residuals: [] };
  const region =
    "recipe" in reading
      ? reading.recipe
      : { corners: fields.corners, width: 1000, height: 1000, bow: fields.bow };
  try {
    const { toPhoto, residuals } = flattening(region, photo);
    const { width, height } = region;
    return {
      flat: { toPhoto, width, height },
      residuals,
      size: "recipe" in reading ? flatSize(region, photo, reading.recipe.quality) : undefined,
    };
  } catch (error) {
    if (error instanceof RegionError || error instanceof HomographyError)
      return { trouble: error.message, residuals: [] };
    throw error;
  }
}

/** Where a place of the photograph lies on a region of so many mm. */
export function realPlace(
  { corners, bow }: RegionFields,
  photo: Size,
  { width, height }: Size,
  point: Point,
): Point {
  const outline = [
    { x: 0, y: 0 },
    { x: width, y: 0 },
    { x: width, y: height },
    { x: 0, y: height },
  ];
  const back = homographyOf(
    corners.map((corner) => unbowed(corner, photo, bow)),
    outline,
  );
  return project(back, unbowed(point, photo, bow));
}
