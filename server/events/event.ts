import { z } from "zod";

/** Something that happened to an intake, a delivery, the library or a person's rights, for whoever looks at it. */
export const eventSchema = z.object({
  topic: z.enum(["intake", "delivery", "flattening", "library", "upkeep", "people", "change"]),
  id: z.string(),
  state: z.string().optional(),
  progress: z
    .object({ done: z.number(), total: z.number(), what: z.string(), left: z.number().nullish() })
    .optional(),
});

export type StudioEvent = z.infer<typeof eventSchema>;
