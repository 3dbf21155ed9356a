import { z } from "zod";
import { partsSchema, DECISIONS } from "#server/likeness/queries";

export const likenessShape = z.object({
  first: z.string(),
  second: z.string(),
  alike: z.number(),
  turns: z.number(),
  shiftX: z.number(),
  shiftY: z.number(),
  tint: z.array(z.number()),
  /** Left and right are exchanged before the turn. */
  mirrored: z.boolean(),
  /** What both show where one is only a part of the other, in shares of their sides from the upper left; null where they are wholes. */
  parts: partsSchema.nullable(),
  decision: z.enum(DECISIONS).nullable(),
  sides: z.array(
    z.object({
      sha256: z.string(),
      width: z.number(),
      height: z.number(),
      owners: z.array(
        z.object({ kind: z.enum(["material", "candidate"]), id: z.string(), name: z.string() }),
      ),
    }),
  ),
});
