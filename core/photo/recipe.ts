import { z } from "zod";
import { MOST_BOW } from "#core/photo/lens";
import { QUALITIES } from "#core/photo/region";

const point = z.object({ x: z.number(), y: z.number() }).strict();

/** Layouts that a flattened region can have: it goes on and on, or is there once. */
export const FLAT_LAYOUTS = ["placed", "repeating"] as const;

/** What is made of one region of a photograph; lengths in mm, points of the photograph in its pixels. */
export const flattenRecipeSchema = z
  .object({
    name: z
      .string()
      .trim()
      .min(1, "A name has 1 to 200 characters.")
      .max(200, "A name has 1 to 200 characters."),
    layout: z.enum(FLAT_LAYOUTS).default("placed"),
    corners: z.tuple([point, point, point, point]),
    width: z.number(),
    height: z.number(),
    /** Places whose real position is known as well. */
    control: z
      .array(z.object({ at: point, real: point }).strict())
      .max(20)
      .default([]),
    bow: z.number().min(-MOST_BOW).max(MOST_BOW).default(0),
    quality: z.enum(QUALITIES).default("full"),
    /** Rectangles on the region that are filled with what lies elsewhere on it, or with another material. */
    patches: z
      .array(
        z
          .object({
            x: z.number(),
            y: z.number(),
            width: z.number().positive(),
            height: z.number().positive(),
            shift: point,
            /** Id of the other material. */
            material: z.uuid().optional(),
          })
          .strict(),
      )
      .max(20)
      .default([]),
  })
  .strict();
export type FlattenRecipe = z.infer<typeof flattenRecipeSchema>;

/** What came of it. */
export const flattenFiguresSchema = z.object({
  width: z.number(),
  height: z.number(),
  /** The part of the region that the photograph shows whole, mm. */
  window: z.object({ x: z.number(), y: z.number(), width: z.number(), height: z.number() }),
  /** How far each control point lies from where the fit has it, mm. */
  residuals: z.array(z.number()),
});
export type FlattenFigures = z.infer<typeof flattenFiguresSchema>;
