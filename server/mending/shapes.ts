import { z } from "zod";
import { mendRecipeSchema } from "#core/mend/recipe";
import { ROLES } from "#core/roles/roles";
import { size } from "#server/http/api/shapes";
import { jobState } from "#server/jobs/jobState";
import { mendFiguresSchema, type MendRow } from "#server/mending/queries";

export const mendShape = z.object({
  id: z.string(),
  /** "waiting": it is done, and waits to be kept or dropped; `proposed` is what it came to. */
  state: z.enum(["running", "waiting", "done", "failed"]),
  fromRevision: z.number(),
  toRevision: z.number().nullable(),
  recipe: mendRecipeSchema,
  figures: mendFiguresSchema.nullable(),
  failure: z.string().nullable(),
  proposed: z
    .object({ repeat: size.nullable(), maps: z.array(z.object({ role: z.enum(ROLES), sha256: z.string() })) })
    .optional(),
});

export function mendAnswer(mend: MendRow): z.input<typeof mendShape> {
  const { id, fromRevision, toRevision, recipe, failure, proposal } = mend;
  const state = jobState(toRevision, failure);
  const answer = { id, fromRevision, toRevision, recipe, failure };
  if (state !== "running" || !proposal) return { ...answer, state, figures: mend.figures };
  const { repeat, maps, figures } = proposal;
  return {
    ...answer,
    state: "waiting",
    figures,
    proposed: { repeat, maps: maps.map(({ role, sha256 }) => ({ role, sha256 })) },
  };
}
