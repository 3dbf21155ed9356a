import { z } from "zod";
import { idSchema } from "#server/http/api/shapes";

/** Ids to put in and to take out. */
export const changeBody = z
  .object({ add: z.array(idSchema).max(5000).default([]), remove: z.array(idSchema).max(5000).default([]) })
  .strict();
