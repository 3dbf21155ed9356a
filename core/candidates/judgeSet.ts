import type { Layout, MaterialKind } from "#core/finish/material";
import { alignmentOf, CLEAR_PEAK, edgesOf } from "#core/judge/alignment";
import type { Purpose } from "#core/judge/holdsUp";
import { directionByHeight, isGreenLevel, weighed } from "#core/judge/normalDirection";
import { REPETITION_LOOK, REPETITION_WRONG } from "#core/judge/repetition";
import { SEAM_LOOK, SEAM_WRONG, worstSeam } from "#core/judge/seams";
import type { Direction } from "#core/raster/directions";
import type { CandidateMap, Member } from "#core/candidates/candidate";
import { channelIndex, fileOf } from "#core/roles/channel";
import type { DirectionReasons } from "#core/findings/aboutSets";
import { type Finding, finding } from "#core/findings/finding";
import type { FindingCode, ToldOf } from "#core/findings/kinds";
import { lastName } from "#core/maps/lastName";
import type { Role } from "#core/roles/roles";
import { lumaOf, planeOf, type Plane } from "#core/raster/plane";

export interface SetToJudge {
  maps: CandidateMap[];
  members: Member[];
  kind: MaterialKind;
  layout: Layout;
  purpose: Purpose;
}

/** A direction is taken from the pixels from here on. */
const SURE_DIRECTION = 0.85;

/**
 * What is to be said of the maps of a set together: what is missing, whether they belong together, which way the normal map
 * points, and, where it repeats, its seams and repetition. Settles the normal direction on the map where the pixels are sure.
 */
export function judgeSet(set: SetToJudge): Finding[] {
  if (set.kind === "environment") return [];
  const findings: Finding[] = [];
  const add: Add = (code, told, file) => findings.push(finding(code, told, file));
  whatIsMissing(set, add);
  sizes(set, add);
  direction(set, add);
  crops(set, add);
  if (set.layout === "repeating") {
    seams(set, add);
    repetition(set, add);
  }
  return findings;
}

type Add = <C extends FindingCode>(code: C, told: ToldOf<C>, file?: string) => void;

const memberOf = (set: SetToJudge, map: CandidateMap) =>
  set.members.find(({ image }) => image.file === fileOf(map));

function whatIsMissing({ maps, kind }: SetToJudge, add: Add): void {
  if (kind === "wear") return add("wear-layer", {});
  const has = (...roles: CandidateMap["role"][]) => maps.some(({ role }) => roles.includes(role));
  if (!has("base_color")) add("no-base-color", {});
  const lacks = [
    ...(has("specular_roughness", "gloss") ? [] : (["roughness"] as const)),
    ...(has("geometry_normal", "height", "bump") ? [] : (["relief"] as const)),
  ];
  if (has("base_color") && maps.length === 1) add("single-picture", {});
  else if (has("base_color") && lacks.length > 0) add("incomplete", { lacks });
}

function sizes({ maps }: SetToJudge, add: Add): void {
  const used = maps.filter(({ role }) => role !== "reference" && role !== "unknown");
  const all = new Set(used.map((map) => `${map.width} × ${map.height}`));
  if (all.size > 1) add("sizes-differ", { sizes: [...all] });
  const shapes = new Set(used.map((map) => (map.width / map.height).toFixed(2)));
  if (shapes.size > 1) add("proportions-differ", {});
}

function direction(set: SetToJudge, add: Add): void {
  const normal = set.maps.find(({ role }) => role === "geometry_normal");
  if (!normal) return;
  const member = memberOf(set, normal);
  const byCurl = member?.image.reading?.direction ?? undefined;
  const height =
    set.maps.find(({ role }) => role === "height" || role === "bump") ??
    set.maps.find(({ likely, channel }) => channel === "alpha" && likely[0] === "height");
  const heightPlane = height && planeOfMap(set, height);
  const byHeight =
    member?.small && member.small.channels >= 3 && heightPlane
      ? directionByHeight(member.small, heightPlane)
      : undefined;
  const together = byHeight?.together === true;
  const best = weighed([
    ...(byCurl ? [byCurl] : []),
    ...(together && byHeight.only !== "across" ? [byHeight] : []),
  ]);
  const reasons: DirectionReasons = {
    ...(byCurl && { slopes: { agrees: byCurl.direction === best?.direction, sure: byCurl.sure } }),
    ...(together &&
      byHeight.only !== "across" && {
        height: {
          agrees: byHeight.direction === best?.direction,
          sure: byHeight.sure,
          isFourthChannel: height?.channel === "alpha",
        },
      }),
  };

  const named = normal.normalDirection;
  const seen = best && best.sure > SURE_DIRECTION ? best.direction : undefined;
  if (named) {
    if (seen && seen !== named) add("direction-disagrees", { named, seen, reasons }, normal.file);
  } else if (seen) {
    normal.normalDirection = seen;
    add("direction-from-pixels", { seen, reasons }, normal.file);
  } else if (member?.small && isGreenLevel(member.small)) add("green-is-level", {}, normal.file);
  else add("normal-direction-assumed", { reasons }, normal.file);

  if (height && byHeight && height.role !== "unknown") {
    const told = { normal: lastName(normal.file) };
    if (!together) add("height-does-not-fit", told, height.file);
    else if (byHeight.inverted && byHeight.only !== "down" && byHeight.across < -0.3)
      add("height-inverted", told, height.file);
  }
}

function planeOfMap(set: SetToJudge, map: CandidateMap): Plane | undefined {
  const small = memberOf(set, map)?.small;
  if (!small) return undefined;
  return map.channel === "color" ? lumaOf(small) : planeOf(small, channelIndex(map.channel, small.channels));
}

const CROP_ROLES = new Set([
  "geometry_normal",
  "height",
  "bump",
  "ambient_occlusion",
  "specular_roughness",
  "gloss",
]);

/** Whether the maps show the same crop in the same orientation, by their edges. */
function crops(set: SetToJudge, add: Add): void {
  const base = set.maps.find(({ role }) => role === "base_color");
  const first = base && memberOf(set, base)?.small;
  if (!base || !first) return;
  const edges = edgesOf(first, false);
  for (const map of set.maps) {
    const member = memberOf(set, map);
    if (map.channel !== "color" || !CROP_ROLES.has(map.role) || !member?.small) continue;
    const { turns, mirrored, shiftX, shiftY, peak, peakInPlace } = alignmentOf(
      edges,
      edgesOf(member.small, map.role === "geometry_normal"),
    );
    // Where it fits in place nearly as well, as it does in a pattern that is like itself, nothing is said.
    if (peak < CLEAR_PEAK * 1.5 || peak < 2.5 * peakInPlace) continue;
    if (turns !== 0 || mirrored) {
      add("orientation-differs", { turns, mirrored }, map.file);
      continue;
    }
    const [acrossPx, downPx] = [Math.round(shiftX * base.width), Math.round(shiftY * base.height)];
    if (Math.max(Math.abs(shiftX), Math.abs(shiftY)) > 1.5 / 128)
      add("crop-differs", { acrossPx, downPx }, map.file);
  }
}

/** A seam counts from a higher likelihood on where it is seen from further away. */
const STRICTNESS: Record<Purpose, number> = { near: SEAM_LOOK, far: 0.85, backdrop: SEAM_WRONG };

function seams(set: SetToJudge, add: Add): void {
  let worst: { map: CandidateMap; direction: Direction; broken: number; at: number } | undefined;
  for (const map of set.maps) {
    const seams = memberOf(set, map)?.image.reading?.seams;
    if (!seams || map.channel !== "color" || map.role === "reference" || map.role === "unknown") continue;
    const { direction, broken, worstAt } = worstSeam(seams);
    if (!worst || broken > worst.broken) worst = { map, direction, broken, at: worstAt };
  }
  if (!worst || worst.broken < STRICTNESS[set.purpose]) return;
  const { map, direction, broken, at } = worst;
  const worstPx = Math.round(at * (direction === "across" ? map.height : map.width));
  add("seam", { direction, broken, role: map.role as Role, worstPx }, map.file);
}

function repetition(set: SetToJudge, add: Add): void {
  const base = set.maps.find(({ role }) => role === "base_color");
  const reading = base && memberOf(set, base)?.image.repetition;
  // From near, only little of the wall is seen at once.
  const limit = set.purpose === "near" ? REPETITION_WRONG : REPETITION_LOOK;
  if (!base || !reading || reading.giveaway < limit) return;
  const [spot] = reading.spots;
  add("repetition", { lightness: spot.lightness, x: spot.x, y: spot.y }, base.file);
}
