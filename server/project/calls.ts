import { z } from "zod";
import { cameraSchema } from "#core/judge/holdsUp";
import { type Call, call } from "#server/http/api/call";
import { changeBody } from "#server/http/api/changeBody";
import { idSchema, nameSchema, listOf } from "#server/http/api/shapes";
import { database } from "#server/db/database";
import { projectSchema, findProject, listProjects } from "#server/project/queries";
import {
  changeProject,
  createProject,
  moveProjectBack,
  moveProjectOn,
  setProjectCamera,
  shareWithProject,
} from "#server/project/commands";
import { notFound } from "#server/problem";

const projectNumber = z.coerce.string().trim().min(1).max(40);

async function readProject(id: string) {
  const project = await findProject(database(), id);
  if (!project) throw notFound("project");
  return project;
}

/** Projects, and what they take. */
export const PROJECT_CALLS: Call[] = [
  call({
    method: "get",
    path: "/projects",
    summary: "All projects",
    status: 200,
    answer: listOf(projectSchema),
    handle: async () => ({ items: await listProjects(database()), next: null }),
  }),
  call({
    method: "get",
    path: "/projects/:id",
    summary: "One project with its materials and their revisions",
    status: 200,
    answer: projectSchema,
    handle: ({ params }) => readProject(params.id),
  }),
  call({
    method: "patch",
    path: "/projects/:id",
    summary: "Rename a project, or give it another number (null: none)",
    status: 200,
    body: z.object({ name: nameSchema.optional(), number: projectNumber.nullable().optional() }).strict(),
    answer: projectSchema,
    async handle({ params, body }) {
      await changeProject(params.id, body);
      return readProject(params.id);
    },
  }),
  call({
    method: "post",
    path: "/projects/:id/move-on",
    summary: "Take the newest revision of some of a project's materials",
    status: 200,
    body: z.object({ materials: z.array(idSchema).min(1).max(5000) }).strict(),
    answer: projectSchema,
    async handle({ params, body }) {
      await moveProjectOn(params.id, body.materials);
      return readProject(params.id);
    },
  }),
  call({
    method: "post",
    path: "/projects/:id/move-back",
    summary: "Take what the project had of a material before it moved on",
    status: 200,
    body: z.object({ material: idSchema }).strict(),
    answer: projectSchema,
    async handle({ params, body }) {
      await moveProjectBack(params.id, body.material);
      return readProject(params.id);
    },
  }),
  call({
    method: "put",
    path: "/projects/:id/camera",
    summary: "Say which camera a project's pictures are made with",
    status: 200,
    body: cameraSchema,
    answer: projectSchema,
    async handle({ params, body }) {
      await setProjectCamera(params.id, body);
      return readProject(params.id);
    },
  }),
  call({
    method: "post",
    path: "/projects",
    summary: "Make a project",
    status: 201,
    body: z.object({ name: nameSchema, number: projectNumber.nullish() }).strict(),
    answer: projectSchema,
    async handle({ body, person }) {
      return readProject(await createProject(body, person));
    },
  }),
  ...(["collections", "materials"] as const).map((what) =>
    call({
      method: "put",
      path: `/projects/:id/${what}`,
      summary: `Give ${what} to a project, or take them from it`,
      status: 200,
      body: changeBody,
      answer: projectSchema,
      async handle({ params, body }) {
        await shareWithProject(params.id, what, body);
        return readProject(params.id);
      },
    }),
  ),
];
