import { z } from "zod";
import { type Call, call } from "#server/http/api/call";
import { changeBody } from "#server/http/api/changeBody";
import { idSchema, nameSchema, listOf } from "#server/http/api/shapes";
import { librarySearchSchema } from "#core/library/librarySearch";
import { createFilledCollection, stopFilling } from "#server/collection/filling";
import { collectionSchema, findCollection, listCollections } from "#server/collection/queries";
import { database } from "#server/db/database";
import {
  changeCollection,
  changeCollectionMembers,
  createCollection,
  removeCollection,
} from "#server/collection/commands";
import { notFound } from "#server/problem";

const collectionShape = collectionSchema.extend({ search: librarySearchSchema.nullable() });

async function readCollection(id: string) {
  const collection = await findCollection(database(), id);
  if (!collection) throw notFound("collection");
  return collection;
}

/** Collections of materials. */
export const COLLECTION_CALLS: Call[] = [
  call({
    method: "get",
    path: "/collections",
    summary: "All collections",
    status: 200,
    answer: listOf(collectionShape),
    handle: async () => ({ items: await listCollections(database()), next: null }),
  }),
  call({
    method: "get",
    path: "/collections/:id",
    summary: "One collection",
    status: 200,
    answer: collectionShape,
    handle: ({ params }) => readCollection(params.id),
  }),
  call({
    method: "post",
    path: "/collections",
    summary: "Make a collection",
    status: 201,
    body: z
      .object({
        name: nameSchema,
        parent: idSchema.nullish(),
        search: librarySearchSchema
          .strict()
          .optional()
          .describe("fills it with what this finds, now and whenever the library changes"),
      })
      .strict(),
    answer: collectionShape,
    async handle({ body: { search, ...made }, person }) {
      return readCollection(
        await (search ? createFilledCollection({ ...made, search }, person) : createCollection(made, person)),
      );
    },
  }),
  call({
    method: "patch",
    path: "/collections/:id",
    summary:
      "Rename a collection, or move it into another (null: out of all); search null: it no longer fills itself",
    status: 200,
    body: z
      .object({
        name: nameSchema.optional(),
        parent: idSchema.nullable().optional(),
        search: z.null().optional(),
      })
      .strict(),
    answer: collectionShape,
    async handle({ params, body: { search, ...change } }) {
      if (search === null) await stopFilling(params.id);
      await changeCollection(params.id, change);
      return readCollection(params.id);
    },
  }),
  call({
    method: "delete",
    path: "/collections/:id",
    summary: "Delete a collection; its materials stay in the library, and those inside it move up",
    status: 200,
    answer: z.object({ id: z.string() }),
    async handle({ params }) {
      await removeCollection(params.id);
      return { id: params.id };
    },
  }),
  call({
    method: "put",
    path: "/collections/:id/materials",
    summary: "Add and remove materials",
    status: 200,
    body: changeBody,
    answer: collectionShape,
    async handle({ params, body }) {
      await changeCollectionMembers(params.id, body);
      return readCollection(params.id);
    },
  }),
];
