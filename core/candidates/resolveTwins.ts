import type { CandidateMap, CandidateRole, IgnoredFile } from "#core/candidates/candidate";
import { ROLE_NAMES } from "#core/roles/roles";

/** How twins are resolved, in words. */
const RULE = "more bits, then more pixels, then +Y before −Y";

/** Of several maps for one role one is kept; the others are listed with the reason. */
export function resolveTwins(maps: CandidateMap[]): { kept: CandidateMap[]; passedOver: IgnoredFile[] } {
  const best = new Map<CandidateRole, CandidateMap>();
  for (const map of maps) {
    if (map.role === "unknown") continue;
    const rival = best.get(map.role);
    if (!rival || isBetter(map, rival)) best.set(map.role, map);
  }
  const passedOver: IgnoredFile[] = [];
  for (const map of maps) {
    const winner = best.get(map.role);
    if (map.role !== "unknown" && winner && winner !== map)
      passedOver.push({
        file: map.file,
        kind: "passed-over",
        reason: `Passed over as a second ${ROLE_NAMES[map.role]} map: ${describe(winner)} is kept (${RULE}).`,
      });
  }
  return { kept: [...best.values(), ...maps.filter(({ role }) => role === "unknown")], passedOver };
}

function isBetter(a: CandidateMap, b: CandidateMap): boolean {
  const rank = (map: CandidateMap) => [
    // A file for the role alone is better than one channel of another.
    map.channel === "color" ? 1 : 0,
    map.bitDepth,
    map.width * map.height,
    map.normalDirection === "-Y" ? 0 : 1,
    map.confidence,
  ];
  const [ranksA, ranksB] = [rank(a), rank(b)];
  const first = ranksA.findIndex((value, i) => value !== ranksB[i]);
  return first === -1 ? a.file < b.file : ranksA[first] > ranksB[first];
}

const describe = (map: CandidateMap) =>
  `${map.file} (${map.bitDepth}-bit, ${map.width} × ${map.height} px${map.normalDirection ? `, ${map.normalDirection.replace("-", "−")}` : ""})`;
