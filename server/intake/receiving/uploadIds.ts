import { randomUUID } from "node:crypto";

/** Names an upload after its intake, so that its address alone says whose it is. */
export const uploadId = (intake: string) => `${intake}_${randomUUID()}`;

const UUID = "[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}";
const ID = new RegExp(`^(${UUID})_${UUID}$`);

/** The intake of an upload; undefined for anything that is no upload's name. */
export function intakeOfUpload(id: string): string | undefined {
  return ID.exec(id)?.[1];
}

/** The intake that the metadata of a new upload names, once and no more: pairs of a word and Base64, by commas (tus 1.0, Upload-Metadata). */
export function intakeInMetadata(header: string | undefined): string | undefined {
  const named = (header ?? "")
    .split(",")
    .map((pair) => pair.trim().split(" "))
    .filter(([key]) => key === "intake");
  // Of two, one could be checked and the other be used.
  const text = named.length === 1 ? Buffer.from(named[0][1] ?? "", "base64").toString("utf8") : "";
  return new RegExp(`^${UUID}$`).test(text) ? text : undefined;
}
