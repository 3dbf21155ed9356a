import { z } from "zod";
import { fileNameIn, insideOf, wholePath } from "#core/library/seenPath";
import { database } from "#server/db/database";
import { listDestinations, type DestinationRow } from "#server/destination/queries";
import { findDeliveredFiles, type DeliveredFile } from "#server/links/sql";

export const MOST_LINKS = 20_000;

/** `replaced`: it is there, and its material has a newer revision than was delivered. */
export const LINK_STATES = ["there", "replaced", "moved", "unknown"] as const;
export type LinkState = (typeof LINK_STATES)[number];

export const checkedLinkSchema = z.object({
  path: z.string(),
  state: z.enum(LINK_STATES),
  destination: z.string().nullable(),
  /** Where it is now, as the machine that asks would write it. */
  now: z.string().nullable(),
});
export type CheckedLink = z.infer<typeof checkedLinkSchema>;

/** Looks for each path among what was delivered: where it says, or elsewhere under its name. */
export async function checkLinks(paths: string[]): Promise<CheckedLink[]> {
  const destinations = await listDestinations(database());
  const names = [...new Set(paths.map((path) => fileNameIn(path).toLowerCase()).filter(Boolean))];
  const byName = new Map<string, DeliveredFile[]>();
  for (const file of await findDeliveredFiles(database(), names)) {
    const name = fileNameIn(file.path).toLowerCase();
    byName.set(name, [...(byName.get(name) ?? []), file]);
  }
  return paths.map((path) => checked(path, destinations, byName.get(fileNameIn(path).toLowerCase()) ?? []));
}

function checked(path: string, destinations: DestinationRow[], found: DeliveredFile[]): CheckedLink {
  const sameCase = (a: string, b: string) => a.toLowerCase() === b.toLowerCase();
  for (const destination of destinations) {
    const inside = insideOf(destination, path);
    const file = found.find(
      (one) => one.destination === destination.id && inside !== undefined && sameCase(one.path, inside),
    );
    if (file)
      return { path, state: isOld(file) ? "replaced" : "there", destination: destination.name, now: null };
  }
  const below = relativeTail(path);
  const named = below === undefined ? undefined : found.find(({ path }) => endsWith(path, below));
  const file = named ?? found[0];
  const destination = destinations.find(({ id }) => id === file?.destination);
  if (!file || !destination) return { path, state: "unknown", destination: null, now: null };
  // What is named from where its scene lies is there if its end is.
  if (named)
    return { path, state: isOld(file) ? "replaced" : "there", destination: destination.name, now: null };
  return {
    path,
    state: "moved",
    destination: destination.name,
    now: writtenAs(path, destination, file.path),
  };
}

/** What a path names from somewhere that is not said, without the way up; nothing where it begins at a root, or is a mere name. */
function relativeTail(path: string): string | undefined {
  const plain = path.trim().replaceAll("\\", "/");
  if (/^(?:\/|[a-z]:|[a-z][a-z0-9+.-]*:\/\/|file:)/i.test(plain)) return undefined;
  const parts = plain.split("/").filter((part) => part !== "" && part !== "." && part !== "..");
  return parts.length > 1 ? parts.join("/") : undefined;
}

const endsWith = (path: string, tail: string) => `/${path}`.toLowerCase().endsWith(`/${tail.toLowerCase()}`);

const isOld = ({ revision, newest }: DeliveredFile) =>
  revision !== null && newest !== null && newest > revision;

/** As a machine that writes such paths sees the place; else from the folder of the destination on. */
export function writtenAs(like: string, { folder, paths }: DestinationRow, inside: string): string {
  const isBackward = like.includes("\\") || /^[A-Za-z]:/.test(like);
  const seen =
    paths.find(({ path }) => (path.includes("\\") || /^[A-Za-z]:/.test(path)) === isBackward) ?? paths[0];
  return wholePath(seen ?? { system: "", path: folder }, inside);
}
