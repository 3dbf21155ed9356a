import { z } from "zod";
import { database } from "#server/db/database";
import { call, type Call } from "#server/http/api/call";
import { nameSchema } from "#server/http/api/shapes";
import { badField, notFound } from "#server/problem";
import { handInSought } from "#server/sought/commands";
import { findSought, soughtSchema } from "#server/sought/sql";

const querySchema = z.object({ name: nameSchema }).strict();

/** Pictures that materials are looked for by: `likePicture` of the search. */
export const SOUGHT_CALLS: Call[] = [
  {
    method: "post",
    path: "/sought-pictures",
    summary: "Hand in a picture to find materials like it, as the body; then search with likePicture",
    status: 202,
    takes: { "image/*": { schema: { type: "string", format: "binary" } } },
    gives: { "application/json": { schema: z.toJSONSchema(soughtSchema) } },
    async raw({ person, request, response }) {
      const read = querySchema.safeParse(request.query);
      if (!read.success) {
        const [{ path, message }] = read.error.issues;
        throw badField(`/${path.join("/")}`, message);
      }
      response.status(202).json(soughtSchema.parse(await handInSought(request, read.data.name, person)));
    },
  },
  call({
    method: "get",
    path: "/sought-pictures/:id",
    summary: "Whether materials can be found by a picture yet, or why not",
    status: 200,
    answer: soughtSchema,
    async handle({ params }) {
      const sought = await findSought(database(), params.id);
      if (!sought) throw notFound("picture");
      return sought;
    },
  }),
];
