import type { CandidateMap, IntakeImage, Member, PlannedCandidate } from "#core/candidates/candidate";
import { describeSet, kindOf } from "#core/candidates/describeSet";
import { fourthChannels } from "#core/candidates/fourthChannels";
import type { Named } from "#core/candidates/named";
import { pixelOpinions } from "#core/candidates/pixelOpinions";
import type { Purpose } from "#core/judge/holdsUp";
import type { Raster } from "#core/raster/raster";

/** What is judged anew of a candidate. */
export type Judged = Pick<PlannedCandidate, "kind" | "layout" | "maps" | "findings">;

/**
 * Judges a set anew after somebody has said roles of it, or moved files into it: the roles that its maps have stay.
 * @param group the images that the maps are in, with what their names say
 */
export function judgeKnown(
  group: Named[],
  known: CandidateMap[],
  smallOf: (image: IntakeImage) => Raster | undefined,
  purpose: Purpose,
): Judged {
  const members: Member[] = group.map(({ image }) => ({ image, small: smallOf(image) }));
  const taken = known.filter(({ leftOut }) => !leftOut).map((map) => ({ ...map }));
  const maps = [...taken, ...fourthChannels(known, members).filter(({ role }) => !isTaken(role, taken))];
  const kind = kindOf(group, maps, members);
  const described = describeSet({ group, members, opinions: pixelOpinions(members), maps, kind, purpose });
  return { ...described, kind, maps: [...described.maps, ...known.filter(({ leftOut }) => leftOut)] };
}

const isTaken = (role: CandidateMap["role"], maps: CandidateMap[]) =>
  role !== "unknown" && maps.some((map) => map.role === role);
