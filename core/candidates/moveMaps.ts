import type { CandidateMap, CandidateRole } from "#core/candidates/candidate";
import { isToldApart } from "#core/roles/channel";
import { readRole } from "#core/maps/readRole";
import { lastName } from "#core/maps/lastName";
import type { Role } from "#core/roles/roles";

type Moved = Pick<CandidateMap, "file" | "channel" | "role" | "likely" | "leftOut" | "confidence">;

/** What may become the colours of a set that has none. */
const MAY_BE_BASE = new Set<CandidateRole>(["unknown", "reference", "base_color"]);

/**
 * What maps are once they lie in another set: a role that the set has already is asked, and a set that has no colours takes the first
 * picture for them that nothing else is known of.
 * @param there what the set holds
 */
export function movedMaps<M extends Moved>(moved: M[], there: Pick<CandidateMap, "role">[]): M[] {
  const taken = new Set<CandidateRole>(there.map(({ role }) => role));
  const settled = moved.map((map): M => {
    if (map.role === "unknown") return map;
    if (!taken.has(map.role)) {
      taken.add(map.role);
      return map;
    }
    const likely: Role[] = [map.role, ...map.likely.filter((role) => role !== map.role)];
    return { ...map, role: "unknown", likely, leftOut: false };
  });
  if (taken.has("base_color") || there.length > 0) return settled;
  const base = settled.find(
    (map) => map.channel === "color" && MAY_BE_BASE.has(map.role) && !isToldApart(map, settled),
  );
  return settled.map((map) =>
    map === base ? { ...map, role: "base_color", confidence: 0, leftOut: false } : map,
  );
}

/** What a set is called that begins with a file. */
export function nameOfFile(file: string): string {
  const { wholeStem } = readRole(file);
  const name = wholeStem || lastName(file).replace(/\.[a-z0-9]+$/i, "") || "Unnamed";
  return name.charAt(0).toUpperCase() + name.slice(1);
}
