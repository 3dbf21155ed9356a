import { randomUUID } from "node:crypto";
import { rm } from "node:fs/promises";
import { join } from "node:path";
import { settings } from "#server/settings";

/**
 * Gives work that may be ended at any moment a folder of its own for what is not whole yet, and takes it away afterwards.
 * @param work gets the file store's root, and the folder inside it
 */
export async function ownIncoming<T>(work: (root: string, incoming: string) => Promise<T>): Promise<T> {
  const root = settings().dataFolder;
  const incoming = join("incoming", randomUUID());
  try {
    return await work(root, incoming);
  } finally {
    await rm(join(root, incoming), { recursive: true, force: true });
  }
}
