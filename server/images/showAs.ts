import type { MapChannel } from "#core/roles/channel";
import { isColorRole, type Role } from "#core/roles/roles";
import { database } from "#server/db/database";
import { findImage } from "#server/images/queries";
import { keepPreviews } from "#server/images/studyFile";

/** Makes the previews that a map's role and channel need, where those of its file do not serve. */
export async function showAs(sha256: string, role: Role, channel: MapChannel): Promise<void> {
  const image = (await findImage(database(), sha256))!;
  const data = !isColorRole(role) || channel !== "color";
  if (channel !== "color" || (data && image.shown_as === "color"))
    await keepPreviews(sha256, image.format, channel, data ? "data" : "color");
}
