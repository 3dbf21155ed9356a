import { z } from "zod";
import { cameraSchema } from "#core/judge/holdsUp";
import { idSchema } from "#server/api/shapes";
import type { CollectionRow } from "#server/db/collections";
import type { ProjectRow } from "#server/db/projects";

/** Shapes of the HTTP interface for collections and projects, and how rows become them. */

export const changeBody = z
  .object({ add: z.array(idSchema).max(5000).default([]), remove: z.array(idSchema).max(5000).default([]) })
  .strict();

export const collectionShape = z.object({
  id: z.string(),
  name: z.string(),
  parent: z.string().nullable(),
  materials: z.array(z.string()),
  projects: z.array(z.object({ id: z.string(), name: z.string() })),
});

export const collectionAnswer = (collection: CollectionRow): z.input<typeof collectionShape> => collection;

export const projectShape = z.object({
  id: z.string(),
  name: z.string(),
  number: z.string().nullable(),
  camera: cameraSchema.nullable(),
  collections: z.array(z.object({ id: z.string(), name: z.string(), count: z.number() })),
  materials: z.array(z.string()),
  revisions: z.array(z.object({ material: z.string(), taken: z.number(), newest: z.number() })),
});

export const projectAnswer = (project: ProjectRow): z.input<typeof projectShape> => project;
