import { z } from "zod";
import { database } from "#server/db/database";
import { BONDS } from "#core/gauge/bond";
import { DIRECTIONS } from "#core/raster/directions";
import { type Call, call } from "#server/http/api/call";
import { mustFindMaterial } from "#server/material/queries";
import { askForModules } from "#server/counting/commands";
const jointShape = z.object({ share: z.number(), sure: z.number() });

const countShape = z.object({
  across: z.number().optional(),
  down: z.number().optional(),
  bond: z.enum(BONDS),
  /** Columns are shifted against each other, and not courses. */
  upright: z.boolean().optional(),
  /** Of herringbone: how many times as long as wide a block is. */
  blockLength: z.number().optional(),
  /** How often the picture holds itself beside itself. */
  copies: z.object({ across: z.number(), down: z.number() }).optional(),
  sure: z.number(),
});

/** What the program counts in a picture. */
export const COUNTING_CALLS: Call[] = [
  call({
    method: "get",
    path: "/materials/:id/modules",
    summary:
      "What the program counts in the picture: modules, or the pitch in pixels where it is not seamless",
    status: 200,
    answer: z.object({
      /** "counting": ask again in a while; "none": there is no picture that repeats. */
      state: z.enum(["counting", "counted", "failed", "none"]),
      count: countShape.optional(),
      /** What the height map holds, where that is another number than in the picture. */
      heightCount: countShape.optional(),
      pitch: z
        .object({
          across: z.number().optional(),
          down: z.number().optional(),
          hidden: z.enum(DIRECTIONS).optional(),
        })
        .optional(),
      /** Degrees from level, counter-clockwise, and how clear that is, 0..1. */
      grain: z.object({ angle: z.number(), clear: z.number() }).optional(),
      /** How much of a module its joints take, between pieces and between courses, and how sure that is. */
      joints: z.object({ across: jointShape.optional(), down: jointShape.optional() }).optional(),
    }),
    async handle({ params }) {
      const found = await askForModules(await mustFindMaterial(database(), params.id));
      if (found === undefined) return { state: "none" as const };
      if (found === null) return { state: "counting" as const };
      const { failed, lattice: _, ...counted } = found;
      return failed ? { state: "failed" as const } : { state: "counted" as const, ...counted };
    },
  }),
];
