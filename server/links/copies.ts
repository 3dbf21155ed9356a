import { insideOf } from "#core/library/seenPath";
import { database } from "#server/db/database";
import { listDestinations, type DestinationRow } from "#server/destination/queries";
import { isInside, placeOf } from "#server/destination/writeToDestination";
import { writtenAs, type CheckedLink } from "#server/links/checkLinks";
import { findDeliveredHashes } from "#server/links/sql";
import { log } from "#server/log";

/** More files are not read for one list: what is left stays unknown. */
const MOST_READ = 2000;

/**
 * Looks into the destinations for what lies where unknown paths lead to: a copy of what was delivered is found by its content,
 * whatever it is called. Where a destination is not reached, nothing is found there.
 */
export function copyFinder(): (links: CheckedLink[]) => Promise<CheckedLink[]> {
  let left = MOST_READ;
  return async (links) => {
    const destinations = await listDestinations(database());
    const hashes = await hashesOf(links, destinations, () => left-- > 0);
    return hashes.size === 0 ? links : moved(links, hashes, destinations);
  };
}

type Hashes = Map<CheckedLink, { destination: string; sha256: string }>;

/** @param mayRead whether one more file may be read */
async function hashesOf(
  links: CheckedLink[],
  destinations: DestinationRow[],
  mayRead: () => boolean,
): Promise<Hashes> {
  const hashes: Hashes = new Map();
  for (const link of links.filter(({ state }) => state === "unknown"))
    for (const { id, folder, paths } of destinations) {
      const inside = insideOf({ folder, paths }, link.path);
      if (inside === undefined || !isInside(inside) || !mayRead()) continue;
      const sha256 = await placeOf(folder)
        .hashAt(inside)
        .catch((error: unknown) => void log.info({ err: error }, "a link could not be followed"));
      if (sha256) hashes.set(link, { destination: id, sha256 });
    }
  return hashes;
}

async function moved(
  links: CheckedLink[],
  hashes: Hashes,
  destinations: DestinationRow[],
): Promise<CheckedLink[]> {
  const known = await findDeliveredHashes(
    database(),
    [...hashes.values()].map(({ sha256 }) => sha256),
  );
  return links.map((link) => {
    const copy = hashes.get(link);
    const found =
      known.find((one) => one.sha256 === copy?.sha256 && one.destination === copy.destination) ??
      known.find((one) => one.sha256 === copy?.sha256);
    const destination = destinations.find(({ id }) => id === found?.destination);
    if (!found || !destination) return link;
    return {
      path: link.path,
      state: "moved",
      destination: destination.name,
      now: writtenAs(link.path, destination, found.path),
    };
  });
}
