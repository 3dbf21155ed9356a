import type { Finding } from "#core/maps/finding";
import { readRole, type NameReading } from "#core/maps/readRole";
import { isColorRole, ROLE_NAMES, type NormalDirection, type Role } from "#core/maps/roles";

/** What the fourth channel of an image holds: nothing to speak of, a clean mask, or values of some other meaning. */
export type AlphaContent = "none" | "constant" | "cut-out" | "varied";

/** One decoded image of an intake, with what its pixels are known to be. */
export interface IntakeImage {
  /** Path inside the upload, with the upload's own name in front where it was an archive. */
  file: string;
  /** Files of one scope can belong together: one archive, or all the loose files. */
  scope: string;
  sha256: string;
  width: number;
  height: number;
  bitDepth: number;
  channels: number;
  alpha: AlphaContent;
  /** Format by content ("jpeg") where the extension says another. */
  mistakenFor?: string;
  /** Whether a colour profile other than sRGB was embedded. */
  foreignProfile: boolean;
}

/** "unknown": a person has to say what it is, or leave it out. */
export type CandidateRole = Role | "unknown";

/** Which channels of the file a map reads: all of its colour channels, or the fourth alone. */
export type MapChannel = "color" | "alpha";

export interface CandidateMap {
  /** The file's path; a map that reads the fourth channel has "#alpha" behind it. */
  file: string;
  sha256: string;
  channel: MapChannel;
  role: CandidateRole;
  /** 0..1 */
  confidence: number;
  normalDirection?: NormalDirection;
  /** Roles to offer first where the role is unknown. */
  likely: Role[];
  width: number;
  height: number;
  bitDepth: number;
}

export interface PlannedCandidate {
  name: string;
  kind: "material" | "wear" | "environment";
  maps: CandidateMap[];
  findings: Finding[];
}

export interface IgnoredFile {
  file: string;
  reason: string;
}

interface Member {
  image: IntakeImage;
  reading: NameReading;
}

/** Groups the images of an intake into candidates by what their names share, and tells what is passed over. */
export function planCandidates(images: IntakeImage[]): {
  candidates: PlannedCandidate[];
  ignored: IgnoredFile[];
} {
  const ignored: IgnoredFile[] = [];
  const candidates = [...groupFiles(images).values()].map((members) => planCandidate(members, ignored));
  return { candidates: candidates.sort((a, b) => a.name.localeCompare(b.name)), ignored };
}

const keyOf = (image: IntakeImage, stem: string) =>
  [image.scope, image.file.replace(/[^\\/]*$/, "").toLowerCase(), stem].join("\u0000");

/** Joins files by scope, folder and stem; a weak role word yields where the whole name is what others are called. */
function groupFiles(images: IntakeImage[]): Map<string, Member[]> {
  const read = images.map((image) => ({ image, reading: readRole(image.file) }));
  const stems = new Map<string, number>();
  for (const { image, reading } of read) {
    const key = keyOf(image, reading.stem);
    stems.set(key, (stems.get(key) ?? 0) + 1);
  }
  const groups = new Map<string, Member[]>();
  for (const member of read) {
    const { image, reading } = member;
    const whole = keyOf(image, reading.wholeStem);
    const isName = reading.stem !== reading.wholeStem && stems.has(whole);
    const lonely = reading.confidence < 0.7 && stems.get(keyOf(image, reading.stem)) === 1;
    const settled: Member =
      reading.role && (isName || lonely)
        ? { image, reading: { stem: reading.wholeStem, wholeStem: reading.wholeStem, confidence: 0 } }
        : member;
    const key = keyOf(image, settled.reading.stem);
    groups.set(key, [...(groups.get(key) ?? []), settled]);
  }
  return groups;
}

function planCandidate(members: Member[], ignored: IgnoredFile[]): PlannedCandidate {
  const findings: Finding[] = [];
  const named = members.some(({ reading }) => reading.role === "base_color");
  const maps = members.map(({ image, reading }): CandidateMap => {
    const asBase = !reading.role && !reading.doubt && !named;
    return {
      file: image.file,
      sha256: image.sha256,
      channel: "color",
      role: reading.role ?? (asBase ? "base_color" : "unknown"),
      confidence: reading.role ? reading.confidence : asBase ? (members.length > 1 ? 0.85 : 0.7) : 0,
      ...(reading.normalDirection ? { normalDirection: reading.normalDirection } : {}),
      likely: reading.doubt?.likely ?? [],
      width: image.width,
      height: image.height,
      bitDepth: image.bitDepth,
    };
  });

  const kept = resolveTwins(maps, ignored);
  const keptImages = members.filter(({ image }) => kept.some((map) => map.file === image.file));
  for (const { image } of keptImages) {
    const map = kept.find(({ file }) => file === image.file)!;
    findings.push(...fileFindings(image, map));
    const fromAlpha = mapFromAlpha(image, map, kept);
    if (fromAlpha) kept.push(fromAlpha);
  }
  findings.push(...setFindings(kept, members));
  return { name: nameOf(members), kind: "material", maps: kept, findings };
}

/** Of several files for one role: more bits, then more pixels, then +Y before −Y. */
function resolveTwins(maps: CandidateMap[], ignored: IgnoredFile[]): CandidateMap[] {
  const best = new Map<CandidateRole, CandidateMap>();
  const rank = (map: CandidateMap) => [
    map.bitDepth,
    map.width * map.height,
    map.normalDirection === "-Y" ? 0 : 1,
    map.confidence,
  ];
  const better = (a: CandidateMap, b: CandidateMap) => {
    const [ranksA, ranksB] = [rank(a), rank(b)];
    const first = ranksA.findIndex((value, i) => value !== ranksB[i]);
    return first === -1 ? a.file < b.file : ranksA[first] > ranksB[first];
  };
  const kept = maps.filter((map) => map.role === "unknown");
  for (const map of maps) {
    if (map.role === "unknown") continue;
    const rival = best.get(map.role);
    if (!rival || better(map, rival)) best.set(map.role, map);
  }
  for (const map of maps) {
    const winner = best.get(map.role);
    if (map.role !== "unknown" && winner && winner !== map)
      ignored.push({
        file: map.file,
        reason: `Passed over as a second ${ROLE_NAMES[map.role]} map: ${describe(winner)} is kept (more bits, then more pixels, then +Y before −Y).`,
      });
  }
  return [...best.values(), ...kept];
}

const describe = (map: CandidateMap) =>
  `${map.file} (${map.bitDepth}-bit, ${map.width} × ${map.height} px${map.normalDirection ? `, ${map.normalDirection}` : ""})`;

/** A fourth channel is a map only where it says something: a cut-out in a colour map, perhaps a height in a normal map. */
function mapFromAlpha(image: IntakeImage, map: CandidateMap, kept: CandidateMap[]): CandidateMap | undefined {
  const base = { ...map, file: `${image.file}#alpha`, channel: "alpha" as const, normalDirection: undefined };
  if (
    map.role === "base_color" &&
    image.alpha === "cut-out" &&
    !kept.some((other) => other.role === "geometry_opacity")
  )
    return { ...base, role: "geometry_opacity", confidence: 0.9, likely: [] };
  if (map.role === "geometry_normal" && image.alpha === "varied")
    return { ...base, role: "unknown", confidence: 0, likely: ["height", "bump"] };
  return undefined;
}

function fileFindings(image: IntakeImage, map: CandidateMap): Finding[] {
  const findings: Finding[] = [];
  const add = (level: Finding["level"], code: string, message: string) =>
    findings.push({ level, code, message });
  if (image.mistakenFor)
    add(
      "note",
      "extension-differs",
      `${image.file} is ${image.mistakenFor.toUpperCase()} by its content; it was read as that.`,
    );
  if (image.foreignProfile && map.role !== "unknown")
    add(
      "note",
      isColorRole(map.role) ? "profile-converted" : "profile-ignored",
      isColorRole(map.role)
        ? `${image.file} carries a colour profile; its colours are converted to sRGB.`
        : `${image.file} carries a colour profile; it is data, so the profile is ignored.`,
    );
  if (image.alpha === "constant")
    add(
      "note",
      "alpha-dropped",
      `${image.file} has a fourth channel that is the same everywhere; it is left aside.`,
    );
  if (image.alpha === "varied" && map.role === "geometry_normal")
    add(
      "look",
      "alpha-may-be-height",
      `${image.file} has a fourth channel that may hold the height. Give it that role, or leave it out.`,
    );
  else if (image.alpha === "varied")
    add(
      "note",
      "alpha-not-opacity",
      `${image.file} has a fourth channel that is no cut-out mask; it is left aside.`,
    );
  if (map.role === "geometry_normal" && !map.normalDirection)
    add(
      "look",
      "normal-direction-assumed",
      `${image.file} does not say whether green points up or down; +Y (up) is assumed.`,
    );
  if (map.role === "bump")
    add(
      "note",
      "bump-has-no-unit",
      `${image.file} is a bump map: a height without a unit, so how deep it is has to be assumed.`,
    );
  if (map.role === "unknown")
    add(
      "look",
      "role-unknown",
      map.likely.length > 0
        ? `${image.file} may be ${map.likely.map((role) => ROLE_NAMES[role]).join(", ")}: say which, or leave it out.`
        : `${image.file} has no role word in its name: say what it is, or leave it out.`,
    );
  return findings;
}

function setFindings(maps: CandidateMap[], members: Member[]): Finding[] {
  const findings: Finding[] = [];
  if (!maps.some((map) => map.role === "base_color"))
    findings.push({ level: "look", code: "no-base-color", message: "No file is a base color map." });
  const sizes = new Set(
    maps.filter((map) => map.role !== "reference").map((map) => `${map.width} × ${map.height}`),
  );
  if (sizes.size > 1)
    findings.push({
      level: "look",
      code: "sizes-differ",
      message: `The maps differ in size: ${[...sizes].join(", ")} px.`,
    });
  if (members.length === 1 && maps.some((map) => map.role === "base_color"))
    findings.push({
      level: "note",
      code: "single-picture",
      message: "One picture only: no roughness and no relief came with it.",
    });
  return findings;
}

function nameOf(members: Member[]): string {
  const { image, reading } = members[0];
  const folder = image.file.split(/[\\/]/).at(-2);
  const name = reading.stem || folder || image.scope.replace(/\.[a-z0-9]+$/i, "") || "Unnamed";
  return name.charAt(0).toUpperCase() + name.slice(1);
}
