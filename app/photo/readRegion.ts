import { LengthError, parseLength, type LengthUnit } from "#core/length/parseLength";
import type { Point } from "#core/gauge/repeat";
import type { Repeat } from "#core/length/repeat";
import type { FlattenRecipe } from "#core/photo/recipe";

/** A region as it is drawn and typed. */
export interface RegionFields {
  name: string;
  layout: FlattenRecipe["layout"];
  corners: FlattenRecipe["corners"];
  width: string;
  height: string;
  quality: FlattenRecipe["quality"];
  bow: number;
  /** Three points each on something that is straight in the real world. */
  straight: [Point, Point, Point][];
  control: { at: Point; across: string; down: string }[];
  patches: PatchFields[];
}

/** A rectangle that is painted out, with lengths as they are typed. */
export interface PatchFields {
  x: string;
  y: string;
  width: string;
  height: string;
  shiftX: string;
  shiftY: string;
  material: PatchMaterial | null;
}

/** Another material that a patch is filled with, and its picture for looking at. */
export interface PatchMaterial {
  id: string;
  name: string;
  preview: string | null;
  repeat: Repeat | null;
}

export type RegionReading =
  | { recipe: FlattenRecipe }
  | { field: string; message: string }
  /** Not everything is typed yet. */
  | { waiting: true };

/** A quadrilateral to begin with: well inside the picture. */
export function startRegion(photo: { width: number; height: number }, name: string): RegionFields {
  const [left, right] = [0.2 * photo.width, 0.8 * photo.width];
  const [top, bottom] = [0.2 * photo.height, 0.8 * photo.height];
  return {
    name,
    layout: "placed",
    corners: [
      { x: left, y: top },
      { x: right, y: top },
      { x: right, y: bottom },
      { x: left, y: bottom },
    ],
    width: "",
    height: "",
    quality: "full",
    bow: 0,
    straight: [],
    control: [],
    patches: [],
  };
}

class FieldError extends Error {
  constructor(
    readonly field: string,
    message: string,
  ) {
    super(message);
  }
}

/** Reads a region as a recipe: lengths as people write them, a bare number in their unit. */
export function readRegion(fields: RegionFields, unit: LengthUnit): RegionReading {
  const length = (field: string, text: string, signed = false): number => {
    const negative = signed && text.trim().startsWith("-");
    try {
      const read = parseLength(negative ? text.trim().slice(1) : text, { unit, allowZero: signed });
      return negative ? -read : read;
    } catch (error) {
      if (error instanceof LengthError) throw new FieldError(field, error.message);
      throw error;
    }
  };
  if (fields.width.trim() === "" || fields.height.trim() === "") return { waiting: true };
  try {
    return {
      recipe: {
        name: fields.name,
        layout: fields.layout,
        corners: fields.corners,
        width: length("width", fields.width),
        height: length("height", fields.height),
        quality: fields.quality,
        bow: fields.bow,
        // What is not typed yet does not count yet.
        control: fields.control
          .filter(({ across, down }) => across.trim() !== "" && down.trim() !== "")
          .map(({ at, across, down }, i) => ({
            at,
            real: { x: length(`control/${i}`, across, true), y: length(`control/${i}`, down, true) },
          })),
        patches: fields.patches.map((patch, i) => ({
          x: length(`patches/${i}`, patch.x, true),
          y: length(`patches/${i}`, patch.y, true),
          width: length(`patches/${i}`, patch.width),
          height: length(`patches/${i}`, patch.height),
          shift: {
            x: length(`patches/${i}`, patch.shiftX, true),
            y: length(`patches/${i}`, patch.shiftY, true),
          },
          ...(patch.material && { material: patch.material.id }),
        })),
      },
    };
  } catch (error) {
    if (error instanceof FieldError) return { field: error.field, message: error.message };
    throw error;
  }
}
