import type { CandidateMap, IntakeImage, Member, PlannedCandidate } from "#core/candidates/candidate";
import { describeSet, kindOf } from "#core/candidates/describeSet";
import { fourthChannels } from "#core/candidates/fourthChannels";
import type { Named } from "#core/candidates/named";
import { pixelOpinions } from "#core/candidates/pixelOpinions";
import type { Finding } from "#core/findings/finding";
import type { Purpose } from "#core/judge/holdsUp";
import type { Raster } from "#core/raster/raster";
import { fileOf } from "#core/roles/channel";

/** What is judged anew of a candidate. */
export type Judged = Pick<PlannedCandidate, "kind" | "layout" | "maps" | "findings">;

/** What a set was, as far as it stays. */
export interface Known {
  /** The roles that they have stay. */
  maps: CandidateMap[];
  /** Where they are settled, and do not follow from names and pixels. */
  kind?: PlannedCandidate["kind"];
  layout?: PlannedCandidate["layout"];
  /** What was said of it before. */
  findings: Pick<Finding, "code" | "file">[];
}

/**
 * Judges a set anew after somebody has said roles of it, or moved files into it. A direction that its pixels alone told is told anew,
 * and what somebody has answered about a fourth channel is not asked again.
 * @param group the images that the maps are in, with what their names say
 */
export function judgeKnown(
  group: Named[],
  { maps: known, findings: before, kind: ofKind, layout }: Known,
  smallOf: (image: IntakeImage) => Raster | undefined,
  purpose: Purpose,
): Judged {
  const members: Member[] = group.map(({ image }) => ({ image, small: smallOf(image) }));
  const taken = known.filter(({ leftOut }) => !leftOut).map((map) => withoutSeenDirection(map, before));
  const maps = [...taken, ...fourthChannels(known, members).filter(({ role }) => !isTaken(role, taken))];
  const kind = ofKind ?? kindOf(group, maps, members);
  const described = describeSet({
    group,
    members,
    opinions: pixelOpinions(members),
    maps,
    kind,
    layout,
    purpose,
  });
  const settled = new Set(
    known
      .filter(({ channel, role, leftOut }) => channel === "alpha" && (leftOut || role !== "unknown"))
      .map(fileOf),
  );
  return {
    ...described,
    kind,
    maps: [...described.maps, ...known.filter(({ leftOut }) => leftOut)],
    findings: described.findings.filter(
      ({ code, file }) => !(ABOUT_FOURTH_CHANNELS.has(code) && file !== undefined && settled.has(file)),
    ),
  };
}

/** What is said of a file while nobody knows what its fourth channel holds. */
const ABOUT_FOURTH_CHANNELS = new Set(["alpha-may-be-height", "alpha-is-asked", "alpha-not-opacity"]);

const isTaken = (role: CandidateMap["role"], maps: CandidateMap[]) =>
  role !== "unknown" && maps.some((map) => map.role === role);

function withoutSeenDirection(map: CandidateMap, before: Known["findings"]): CandidateMap {
  const isSeen = before.some(({ code, file }) => code === "direction-from-pixels" && file === map.file);
  if (!isSeen) return { ...map };
  const { normalDirection: _, ...rest } = map;
  return rest;
}
