import type { MapChannel } from "#core/maps/channel";
import { isColorRole, type Role } from "#core/maps/roles";
import { database } from "#server/db/database";
import { findImage } from "#server/db/files";
import { keepPreviews } from "#server/intake/studyFile";

/** Makes the previews that a map's role and channel need, where those of its file do not serve. */
export async function showAs(sha256: string, role: Role, channel: MapChannel): Promise<void> {
  const image = (await findImage(database(), sha256))!;
  const data = !isColorRole(role) || channel !== "color";
  if (channel !== "color" || (data && image.shown_as === "color"))
    await keepPreviews(sha256, image.format, channel, data ? "data" : "color");
}
