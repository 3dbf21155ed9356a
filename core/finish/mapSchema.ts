import { z } from "zod";
import { MAP_CHANNELS } from "#core/roles/channel";
import { ROLES } from "#core/roles/roles";

const count = z.number().int().positive();

/** One image in one role, as rows and plans hold it: a `MaterialMap`. */
export const mapSchema = z.object({
  role: z.enum(ROLES),
  sha256: z.string(),
  channel: z.enum(MAP_CHANNELS),
  fileName: z.string(),
  normalDirection: z.enum(["+Y", "-Y"]).nullable(),
  width: count,
  height: count,
  bitDepth: count,
  channels: count,
});
