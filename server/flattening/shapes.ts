import { z } from "zod";
import { flattenRecipeSchema, flattenFiguresSchema } from "#core/photo/recipe";
import type { FlatteningRow } from "#server/flattening/queries";
import { jobState } from "#server/jobs/jobState";

export const flatteningShape = z.object({
  id: z.string(),
  state: z.enum(["running", "done", "failed"]),
  share: z.number(),
  recipe: flattenRecipeSchema,
  material: z.string().nullable(),
  figures: flattenFiguresSchema.nullable(),
  failure: z.string().nullable(),
});

export function flatteningAnswer(row: FlatteningRow): z.input<typeof flatteningShape> {
  const { id, share, recipe, made, figures, failure } = row;
  return { id, state: jobState(made, failure), share, recipe, material: made, figures, failure };
}
