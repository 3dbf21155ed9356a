import { flattenRecipeSchema } from "#core/photo/recipe";
import { type Call, call } from "#server/http/api/call";
import { flatteningAnswer, flatteningShape } from "#server/flattening/shapes";
import { listOf } from "#server/http/api/shapes";
import { database } from "#server/db/database";
import { listFlattenings } from "#server/flattening/queries";
import { startFlattening } from "#server/flattening/commands";
/** Regions of photographs that are made flat. */
export const FLATTENING_CALLS: Call[] = [
  call({
    method: "get",
    path: "/materials/:id/flattenings",
    summary: "Regions of a photograph that were flattened, newest first",
    status: 200,
    answer: listOf(flatteningShape),
    handle: async ({ params }) => ({
      items: (await listFlattenings(database(), params.id)).map(flatteningAnswer),
      next: null,
    }),
  }),
  call({
    method: "post",
    path: "/materials/:id/flattenings",
    summary: "Flatten a region of a photograph into a material of its own",
    status: 202,
    body: flattenRecipeSchema,
    answer: flatteningShape,
    handle: async ({ params, body, person }) =>
      flatteningAnswer(await startFlattening(params.id, body, person)),
  }),
];
