import { z } from "zod";
import { pageNumber } from "#server/db/page";

/** What several shapes of the HTTP interface are made of. */

export const size = z.object({ width: z.number(), height: z.number() });

export const idSchema = z.uuid("is not an id");

/** A revision, as large as the database counts. */
export const revisionNumber = z
  .number()
  .int()
  .positive()
  .max(2 ** 31 - 1);

export const nameSchema = z
  .string()
  .trim()
  .min(1, "A name has 1 to 200 characters.")
  .max(200, "A name has 1 to 200 characters.");

export const progress = z.object({
  done: z.number(),
  total: z.number(),
  what: z.string(),
  left: z.number().nullish(),
});

/** Something that was noticed, with its sentence. */
export const findingShape = z.object({
  level: z.enum(["note", "look", "wrong"]),
  code: z.string(),
  message: z.string(),
  file: z.string().optional(),
});

export const pageQuery = z.object({ page: pageNumber });

/** One page of a list; `next` is the number of the next page, as a string, or null. */
export const listOf = <T extends z.ZodType>(item: T) =>
  z.object({ items: z.array(item), next: z.string().nullable() });

export const pageAnswer = <T, A>(
  { items, next }: { items: T[]; next: number | null },
  answer: (item: T) => A,
) => ({
  items: items.map(answer),
  next: next === null ? null : String(next),
});
