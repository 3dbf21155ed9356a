import { z } from "zod";
import { cameraSchema } from "#core/judge/holdsUp";
import { type Call, call } from "#server/api/call";
import {
  changeBody,
  collectionAnswer,
  collectionShape,
  projectAnswer,
  projectShape,
} from "#server/api/projectShapes";
import { idSchema, nameSchema, listOf } from "#server/api/shapes";
import { findCollection, insertCollection, listCollections } from "#server/db/collections";
import { database, inTransaction } from "#server/db/database";
import {
  changeCollection,
  changeProject,
  findProject,
  insertProject,
  listProjects,
  setCamera,
  moveOn,
  updateProject,
} from "#server/db/projects";
import { announce } from "#server/events/events";
import { changeCollectionFields, removeCollection } from "#server/library/collections";
import { notFound } from "#server/problem";

const projectNumber = z.coerce.string().trim().min(1).max(40);

async function readCollection(id: string) {
  const collection = await findCollection(database(), id);
  if (!collection) throw notFound("collection");
  return collectionAnswer(collection);
}

async function readProject(id: string) {
  const project = await findProject(database(), id);
  if (!project) throw notFound("project");
  return projectAnswer(project);
}

/** Collections, and the projects that share them. */
export const PROJECT_CALLS: Call[] = [
  call({
    method: "get",
    path: "/collections",
    summary: "All collections",
    status: 200,
    answer: listOf(collectionShape),
    handle: async () => ({ items: (await listCollections(database())).map(collectionAnswer), next: null }),
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
    body: z.object({ name: nameSchema, parent: idSchema.nullish() }).strict(),
    answer: collectionShape,
    async handle({ body, person }) {
      return readCollection(
        await insertCollection(database(), {
          name: body.name,
          parent: body.parent ?? null,
          person: person.id,
        }),
      );
    },
  }),
  call({
    method: "patch",
    path: "/collections/:id",
    summary: "Rename a collection, or move it into another (null: out of all)",
    status: 200,
    body: z.object({ name: nameSchema.optional(), parent: idSchema.nullable().optional() }).strict(),
    answer: collectionShape,
    async handle({ params, body }) {
      await changeCollectionFields(params.id, body);
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
      await inTransaction(async (db) => {
        await changeCollection(db, params.id, body);
        await announce(db, { topic: "library", id: params.id });
      });
      return readCollection(params.id);
    },
  }),
  call({
    method: "get",
    path: "/projects",
    summary: "All projects",
    status: 200,
    answer: listOf(projectShape),
    handle: async () => ({ items: (await listProjects(database())).map(projectAnswer), next: null }),
  }),
  call({
    method: "get",
    path: "/projects/:id",
    summary: "One project with its materials and their revisions",
    status: 200,
    answer: projectShape,
    handle: ({ params }) => readProject(params.id),
  }),
  call({
    method: "patch",
    path: "/projects/:id",
    summary: "Rename a project, or give it another number (null: none)",
    status: 200,
    body: z.object({ name: nameSchema.optional(), number: projectNumber.nullable().optional() }).strict(),
    answer: projectShape,
    async handle({ params, body }) {
      if (!(await updateProject(database(), params.id, body))) throw notFound("project");
      await announce(database(), { topic: "library", id: params.id });
      return readProject(params.id);
    },
  }),
  call({
    method: "post",
    path: "/projects/:id/move-on",
    summary: "Take the newest revision of some of a project's materials",
    status: 200,
    body: z.object({ materials: z.array(idSchema).min(1).max(5000) }).strict(),
    answer: projectShape,
    async handle({ params, body }) {
      await readProject(params.id);
      await moveOn(database(), params.id, body.materials);
      await announce(database(), { topic: "library", id: params.id });
      return readProject(params.id);
    },
  }),
  call({
    method: "put",
    path: "/projects/:id/camera",
    summary: "Say which camera a project's pictures are made with",
    status: 200,
    body: cameraSchema,
    answer: projectShape,
    async handle({ params, body }) {
      if (!(await setCamera(database(), params.id, body))) throw notFound("project");
      await announce(database(), { topic: "library", id: params.id });
      return readProject(params.id);
    },
  }),
  call({
    method: "post",
    path: "/projects",
    summary: "Make a project",
    status: 201,
    body: z.object({ name: nameSchema, number: projectNumber.nullish() }).strict(),
    answer: projectShape,
    async handle({ body, person }) {
      return readProject(
        await insertProject(database(), { name: body.name, number: body.number ?? null, person: person.id }),
      );
    },
  }),
  ...(["collections", "materials"] as const).map((what) =>
    call({
      method: "put",
      path: `/projects/:id/${what}`,
      summary: `Give ${what} to a project, or take them from it`,
      status: 200,
      body: changeBody,
      answer: projectShape,
      async handle({ params, body }) {
        await inTransaction(async (db) => {
          await changeProject(db, what, params.id, body);
          await announce(db, { topic: "library", id: params.id });
        });
        return readProject(params.id);
      },
    }),
  ),
];
