import { z } from "zod";
import { toldFieldSchema, type ToldChange } from "#server/history/history";

/** A change of facts as calls answer it. */
export const toldChangeShape = z.object({
  id: z.string(),
  madeAt: z.iso.datetime(),
  madeBy: z.string().nullable(),
  fields: z.array(toldFieldSchema),
});

export const toldChangeAnswer = ({ madeAt, ...change }: ToldChange) => ({
  ...change,
  madeAt: madeAt.toISOString(),
});

export const putBackBody = z.object({ change: z.string().regex(/^\d{1,18}$/, "is no change") }).strict();
