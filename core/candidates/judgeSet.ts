import type { Layout, MaterialKind } from "#core/finish/material";
import { alignmentOf, CLEAR_PEAK, edgesOf } from "#core/judge/alignment";
import { PURPOSE_PIXELS, type Purpose } from "#core/judge/holdsUp";
import { directionByHeight, isGreenLevel, weighed } from "#core/judge/normalDirection";
import { REPETITION_LOOK, REPETITION_WRONG } from "#core/judge/repetition";
import { DIRECTION_WORDS, SEAM_LOOK, SEAM_WRONG, worstSeam } from "#core/judge/seams";
import type { Direction } from "#core/raster/directions";
import type { CandidateMap, Member } from "#core/candidates/candidate";
import { channelIndex, fileOf } from "#core/roles/channel";
import type { Finding } from "#core/findings/finding";
import { lastName } from "#core/maps/lastName";
import { ROLE_NAMES, type NormalDirection } from "#core/roles/roles";
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
  const add: Add = (level, code, message, file) =>
    findings.push({ level, code, message, ...(file === undefined ? {} : { file }) });
  whatIsMissing(set, add);
  sizes(set, add);
  direction(set, add);
  crops(set, add);
  if (set.layout === "repeating") {
    seams(set, add);
    repetition(set, add);
    pixels(set, add);
  }
  return findings;
}

type Add = (level: Finding["level"], code: string, message: string, file?: string) => void;

const memberOf = (set: SetToJudge, map: CandidateMap) =>
  set.members.find(({ image }) => image.file === fileOf(map));

function whatIsMissing({ maps, kind }: SetToJudge, add: Add): void {
  if (kind === "wear")
    return add("note", "wear-layer", "A wear layer: it is kept as one, and not as a material of its own.");
  const has = (...roles: CandidateMap["role"][]) => maps.some(({ role }) => roles.includes(role));
  if (!has("base_color")) add("look", "no-base-color", "No file is a base color map.");
  const lacks = [
    !has("specular_roughness", "gloss") && "roughness",
    !has("geometry_normal", "height", "bump") && "relief",
  ].filter(Boolean);
  if (has("base_color") && maps.length === 1)
    add("note", "single-picture", "One picture only: no roughness and no relief came with it.");
  else if (has("base_color") && lacks.length > 0)
    add("note", "incomplete", `The set has no ${lacks.join(" and no ")}.`);
}

function sizes({ maps }: SetToJudge, add: Add): void {
  const used = maps.filter(({ role }) => role !== "reference" && role !== "unknown");
  const all = new Set(used.map((map) => `${map.width} × ${map.height}`));
  if (all.size > 1) add("look", "sizes-differ", `The maps differ in size: ${[...all].join(", ")} px.`);
  const shapes = new Set(used.map((map) => (map.width / map.height).toFixed(2)));
  if (shapes.size > 1)
    add(
      "wrong",
      "proportions-differ",
      "The maps differ in their proportions: they cannot show the same piece of a surface.",
    );
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
  const what = height?.channel === "alpha" ? "its fourth channel" : "the height map";
  const opinions = [
    byCurl &&
      `the slopes fit together ${byCurl.direction === best?.direction ? "that way" : "the other way"} (${percent(byCurl.sure)} sure)`,
    together &&
      byHeight.only !== "across" &&
      `they ${byHeight.direction === best?.direction ? "go with" : "go against"} ${what} (${percent(byHeight.sure)})`,
  ].filter(Boolean);
  const why = opinions.length > 0 ? `: ${opinions.join("; ")}` : "";

  if (normal.normalDirection) {
    if (best && best.sure > SURE_DIRECTION && best.direction !== normal.normalDirection)
      add(
        "wrong",
        "direction-disagrees",
        `${lastName(normal.file)} is called ${words(normal.normalDirection)} by its name, but its pixels are ${words(best.direction)}${why}. Joints will stand out instead of in: choose which to believe.`,
        normal.file,
      );
  } else if (best && best.sure > SURE_DIRECTION) {
    normal.normalDirection = best.direction;
    add(
      "note",
      "direction-from-pixels",
      `${lastName(normal.file)} is ${words(best.direction)} by its pixels${why}.`,
      normal.file,
    );
  } else if (member?.small && isGreenLevel(member.small))
    add(
      "note",
      "green-is-level",
      `${lastName(normal.file)} rises and falls from left to right only: which way green points makes no difference.`,
      normal.file,
    );
  else
    add(
      "look",
      "normal-direction-assumed",
      `${lastName(normal.file)} does not say whether green points up or down, and its pixels do not tell${why}; +Y (up) is assumed.`,
      normal.file,
    );

  if (height && byHeight && height.role !== "unknown") {
    if (!together)
      add(
        "look",
        "height-does-not-fit",
        `${lastName(height.file)} does not go with ${lastName(normal.file)}: their slopes have nothing to do with each other.`,
        height.file,
      );
    else if (byHeight.inverted && byHeight.only !== "down" && byHeight.across < -0.3)
      add(
        "look",
        "height-inverted",
        `${lastName(height.file)} is dark where ${lastName(normal.file)} says that it is high: one of the two is upside down.`,
        height.file,
      );
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
      add(
        "wrong",
        "orientation-differs",
        `${lastName(map.file)} lies ${[mirrored && "mirrored", turns !== 0 && `turned by ${turns * 90}°`].filter(Boolean).join(" and ")} against the base color.`,
        map.file,
      );
      continue;
    }
    const [x, y] = [Math.round(shiftX * base.width), Math.round(shiftY * base.height)];
    if (Math.max(Math.abs(shiftX), Math.abs(shiftY)) > 1.5 / 128)
      add(
        "wrong",
        "crop-differs",
        `${lastName(map.file)} is shifted against the base color by ${x} px across and ${y} px down.`,
        map.file,
      );
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
  const along =
    direction === "across"
      ? `${Math.round(at * map.height)} px from the top`
      : `${Math.round(at * map.width)} px from the left`;
  const isSure = broken >= SEAM_WRONG;
  add(
    isSure ? "wrong" : "look",
    "seam",
    `${isSure ? "It does not continue" : "It may not continue"} from ${DIRECTION_WORDS[direction]} (${percent(broken)} sure, in its ${ROLE_NAMES[map.role as keyof typeof ROLE_NAMES]}), worst ${along}.`,
    map.file,
  );
}

function repetition(set: SetToJudge, add: Add): void {
  const base = set.maps.find(({ role }) => role === "base_color");
  const reading = base && memberOf(set, base)?.image.repetition;
  // From near, only little of the wall is seen at once.
  const limit = set.purpose === "near" ? REPETITION_WRONG : REPETITION_LOOK;
  if (!base || !reading || reading.giveaway < limit) return;
  const [spot] = reading.spots;
  add(
    "look",
    "repetition",
    `Tiled over a wall it gives itself away: a ${spot.lightness > 0 ? "light" : "dark"} place at ${percent(spot.x)} from the left and ${percent(spot.y)} from the top stands out by ${Math.abs(spot.lightness).toFixed(1)} L*.`,
    base.file,
  );
}

function pixels(set: SetToJudge, add: Add): void {
  const base = set.maps.find(({ role }) => role === "base_color");
  if (!base) return;
  const fewest = PURPOSE_PIXELS[set.purpose];
  const side = Math.max(base.width, base.height);
  if (side < fewest)
    add(
      "look",
      "few-pixels",
      `${base.width} × ${base.height} px is little for ${set.purpose === "backdrop" ? "a backdrop" : `looking from ${set.purpose === "near" ? "near" : "far"}`}; how little shows once its size is known.`,
      base.file,
    );
}

const words = (direction: NormalDirection) => (direction === "+Y" ? "+Y (green up)" : "−Y (green down)");
const percent = (share: number) => `${Math.round(share * 100)} %`;
