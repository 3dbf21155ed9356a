import { z } from "zod";
import { seenPathSchema } from "#core/library/seenPath";
import { idSchema, progress, size } from "#server/http/api/shapes";
import { DELIVERY_STATES, type DeliveryRow } from "#server/delivery/queries";
import type { Account } from "#server/delivery/account";

/** Shapes of the HTTP interface for deliveries, and how rows become them. */

export const deliveryBody = z
  .object({
    materials: z.array(idSchema).min(1).max(5000).optional(),
    collection: idSchema.optional(),
    project: idSchema.optional(),
    profiles: z.array(z.string()).min(1, "Choose at least one profile."),
    maxPixels: z.number().int().min(16).max(32768).optional(),
    destination: z.string().optional(),
  })
  .strict();

const accountShape = z.object({
  delivery: z.string(),
  made: z.string(),
  materials: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      revision: z.number(),
      repeat: size.nullable(),
      profile: z.string(),
      files: z.array(
        z.object({
          path: z.string(),
          role: z.string(),
          operations: z.array(z.string()),
          width: z.number(),
          height: z.number(),
          bitDepth: z.number(),
          encoding: z.enum(["srgb", "linear"]),
          tag: z.enum(["none", "icc"]).optional(),
          sha256: z.string(),
          written: z.boolean(),
        }),
      ),
      settings: z.object({ path: z.string(), sha256: z.string() }),
      steps: z.array(z.string()),
      warnings: z.array(z.string()),
      notCarried: z.array(z.string()).optional(),
      correction: z.array(z.string()).optional(),
      proof: z
        .object({
          meanDeltaE: z.number(),
          p95DeltaE: z.number(),
          maxDeltaE: z.number(),
          scene: z.string(),
          isOverLimit: z.boolean(),
          causes: z.array(z.string()),
        })
        .optional(),
    }),
  ),
  destination: z
    .object({ name: z.string(), folder: z.string(), paths: z.array(seenPathSchema).optional() })
    .optional(),
  written: z.number(),
  unchanged: z.number(),
}) satisfies z.ZodType<Account>;

export const deliveryShape = z.object({
  id: z.string(),
  state: z.enum(DELIVERY_STATES),
  progress,
  failure: z.string().nullable(),
  profiles: z.array(z.string()),
  materials: z.array(z.object({ id: z.string(), name: z.string(), revision: z.number() })),
  destination: z.object({ id: z.string(), name: z.string() }).nullable(),
  account: accountShape.nullable(),
});

export function deliveryAnswer(
  delivery: DeliveryRow,
  account: Account | null,
): z.input<typeof deliveryShape> {
  const { id, state, progress, failure, profiles, materials, destination } = delivery;
  return { id, state, progress, failure, profiles, materials, destination, account };
}
