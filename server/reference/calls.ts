import { z } from "zod";
import { neutralSchema, placingSchema } from "#core/picture/reference";
import { database } from "#server/db/database";
import { call, type Call } from "#server/http/api/call";
import { listOf, nameSchema } from "#server/http/api/shapes";
import { mustFindMaterial } from "#server/material/queries";
import { badField } from "#server/problem";
import { changeReference, handInReference, removeReference } from "#server/reference/commands";
import { listReferences, referenceSchema, type ReferenceRow } from "#server/reference/sql";

const referenceShape = referenceSchema.omit({ madeBy: true, madeAt: true });

const referenceAnswer = ({ madeBy: _by, madeAt: _at, ...reference }: ReferenceRow) => reference;

const querySchema = z.object({ name: nameSchema, profile: z.string().max(80).optional() }).strict();

/** Pictures that a finish is judged against. */
export const REFERENCE_CALLS: Call[] = [
  call({
    method: "get",
    path: "/materials/:id/references",
    summary: "The pictures that a material's finish is judged against",
    status: 200,
    answer: listOf(referenceShape),
    async handle({ params }) {
      await mustFindMaterial(database(), params.id);
      return { items: (await listReferences(database(), params.id)).map(referenceAnswer), next: null };
    },
  }),
  {
    method: "post",
    path: "/materials/:id/references",
    summary:
      "Hand in a picture to judge a material against, as the body; name, and profile where its renderer made it",
    status: 202,
    takes: { "image/*": { schema: { type: "string", format: "binary" } } },
    gives: { "application/json": { schema: z.toJSONSchema(referenceShape) } },
    async raw({ params, person, request, response }) {
      const read = querySchema.safeParse(request.query);
      if (!read.success) {
        const [{ path, message }] = read.error.issues;
        throw badField(`/${path.join("/")}`, message);
      }
      const { name, profile = null } = read.data;
      const made = await handInReference(params.id, request, { name, profile }, person);
      response.status(202).json(referenceShape.parse(referenceAnswer(made)));
    },
  },
  call({
    method: "patch",
    path: "/materials/:id/references/:reference",
    summary: "Say how large a picture is in reality, which spot of it is grey, or which renderer made it",
    status: 200,
    body: z
      .object({
        name: nameSchema.optional(),
        profile: z.string().max(80).nullable().optional(),
        placing: placingSchema.nullable().optional(),
        neutral: neutralSchema.nullable().optional(),
      })
      .strict(),
    answer: referenceShape,
    handle: async ({ params, body }) =>
      referenceAnswer(await changeReference(params.id, params.reference, body)),
  }),
  call({
    method: "delete",
    path: "/materials/:id/references/:reference",
    summary: "Remove a picture from beside a material",
    status: 200,
    answer: z.object({ id: z.string() }),
    async handle({ params }) {
      await removeReference(params.id, params.reference);
      return { id: params.reference };
    },
  }),
];
