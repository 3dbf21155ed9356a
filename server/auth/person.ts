import { z } from "zod";

export const LEVELS = ["look", "make", "keep"] as const;

export type Level = (typeof LEVELS)[number];

export const UNITS = ["mm", "cm", "m", "in"] as const;

export const personSchema = z.object({
  id: z.string(),
  name: z.string(),
  email: z.string(),
  level: z.enum(LEVELS),
  /** The drawing scale to look at things: 10 is 1:10. */
  scale: z.number(),
  /** The unit of a bare number that this person types. */
  unit: z.enum(UNITS),
});

export type Person = z.infer<typeof personSchema>;

export const columns = "people.id, people.name, people.email, people.level, people.scale, people.unit";
