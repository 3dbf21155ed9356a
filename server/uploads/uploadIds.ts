import { randomUUID } from "node:crypto";

/** Names an upload after its intake, so that its address alone says whose it is. */
export const uploadId = (intake: string) => `${intake}_${randomUUID()}`;

const UUID = "[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}";
const ID = new RegExp(`^(${UUID})_${UUID}$`);

/** The intake of an upload; undefined for anything that is no upload's name. */
export function intakeOfUpload(id: string): string | undefined {
  return ID.exec(id)?.[1];
}

/** The intake that the metadata of a new upload names: pairs of a word and Base64, by commas (tus 1.0, Upload-Metadata). */
export function intakeInMetadata(header: string | undefined): string | undefined {
  for (const pair of (header ?? "").split(",")) {
    const [key, value] = pair.trim().split(" ");
    const text = key === "intake" && value ? Buffer.from(value, "base64").toString("utf8") : "";
    if (new RegExp(`^${UUID}$`).test(text)) return text;
  }
  return undefined;
}
