import { z } from "zod";

/** How maps are derived from others; kept with the material, so that it can be told and done again. */
export const mendRecipeSchema = z.discriminatedUnion("kind", [
  z
    .object({
      kind: z.literal("seams"),
      /** Which pairs of edges are joined; the others stay as they are. */
      across: z.boolean().default(true),
      down: z.boolean().default(true),
    })
    .strict()
    .refine(({ across, down }) => across || down, "Choose at least one pair of edges to join."),
  z
    .object({
      kind: z.literal("even-out"),
      /** What counts as slow light and dark, as a share of the image. */
      size: z.number().min(0.05).max(0.5).default(0.25),
      strength: z.number().min(0).max(1).default(1),
    })
    .strict(),
]);
export type MendRecipe = z.infer<typeof mendRecipeSchema>;

/** The recipe in a few words, for the note of a revision. */
export function mendWords(recipe: MendRecipe): string {
  if (recipe.kind === "even-out") return "Slow light and dark evened out";
  return recipe.across && recipe.down
    ? "Seams mended"
    : `Seams mended ${recipe.across ? "left to right" : "top to bottom"}`;
}
