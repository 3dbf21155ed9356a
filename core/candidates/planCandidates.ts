import { GREY } from "#core/judge/imageReading";
import type { Purpose } from "#core/judge/holdsUp";
import type {
  CandidateMap,
  IgnoredFile,
  IntakeImage,
  Member,
  PlannedCandidate,
} from "#core/candidates/candidate";
import { describeSet, kindOf } from "#core/candidates/describeSet";
import { fourthChannels } from "#core/candidates/fourthChannels";
import { groupImages } from "#core/candidates/groupImages";
import { mapOf } from "#core/candidates/mapOf";
import type { Named } from "#core/candidates/named";
import { pixelOpinions } from "#core/candidates/pixelOpinions";
import { resolveTwins } from "#core/candidates/resolveTwins";
import type { PixelOpinion } from "#core/maps/rolesFromPixels";
import { MAP_CHANNELS } from "#core/roles/channel";
import type { Role } from "#core/roles/roles";
import type { Raster } from "#core/raster/raster";

export interface Planned {
  candidate: PlannedCandidate;
  passedOver: IgnoredFile[];
}

/** Groups the images of an intake into candidates, and tells what is passed over. */
export function planCandidates(
  images: IntakeImage[],
  purpose: Purpose = "near",
): { candidates: PlannedCandidate[]; ignored: IgnoredFile[] } {
  const planned = groupImages(images).map((group) => planCandidate(group, () => undefined, purpose));
  return {
    candidates: planned.map(({ candidate }) => candidate).sort((a, b) => a.name.localeCompare(b.name)),
    ignored: planned.flatMap(({ passedOver }) => passedOver),
  };
}

/** From here on the pixels may say what a file with a silent name is. */
const SURE_ENOUGH = 0.6;

/**
 * What one group of images is: a role for each from its name and from the pixels, twins resolved, fourth channels taken for
 * what they are, and everything that was noticed. `smallOf` gives a reduced image where pixels are at hand.
 */
export function planCandidate(
  group: Named[],
  smallOf: (image: IntakeImage) => Raster | undefined,
  purpose: Purpose,
): Planned {
  const members: Member[] = group.map(({ image }) => ({ image, small: smallOf(image) }));
  const opinions = pixelOpinions(members);
  const named = group.find(({ reading }) => reading.role === "base_color");
  const likelyBase = baseByPixels(group, opinions);
  const maps = group.flatMap(({ image, reading }, i): CandidateMap[] => {
    if (image.given)
      return image.given.roles.map(({ role, channel, normalDirection }) => ({
        ...mapOf(image, role, 0.97, channel),
        ...(normalDirection && { normalDirection }),
      }));
    if (isEnvironment(image, group)) return [mapOf(image, "environment", 0.9)];
    if (reading.packed) return packedMaps(image, reading.packed, reading.confidence);
    const direction = reading.normalDirection ? { normalDirection: reading.normalDirection } : {};
    if (reading.role) return [{ ...mapOf(image, reading.role, reading.confidence), ...direction }];
    const opinion = opinions[i];
    if (reading.doubt)
      return [{ ...mapOf(image, "unknown", 0), likely: ordered(reading.doubt.likely, opinion) }];
    if (opinion?.packed && !named) return packedMaps(image, opinion.packed, opinion.sure);
    if (named || (likelyBase !== undefined && likelyBase !== image))
      return [silentMap(image, opinion, named !== undefined, named?.image ?? likelyBase!)];
    if (opinion && opinion.likely[0] !== "base_color" && opinion.sure >= 0.9 && group.length === 1)
      return [mapOf(image, opinion.likely[0], opinion.sure)];
    return [mapOf(image, "base_color", group.length > 1 ? 0.85 : 0.7)];
  });

  const { kept, passedOver } = resolveTwins(maps);
  kept.push(...fourthChannels(kept, members));
  const kind = kindOf(group, kept, members);
  if (kind === "wear")
    for (const map of kept) if (map.role === "base_color" || map.role === "unknown") map.role = "wear_mask";
  const [{ image, reading }] = group;
  return {
    candidate: {
      name: nameOf(group),
      folder: folderOf(image, reading.folder),
      ...(image.given && { given: image.given.set }),
      kind,
      ...describeSet({ group, members, opinions, maps: kept, kind, purpose }),
    },
    passedOver,
  };
}

function packedMaps(image: IntakeImage, roles: (Role | undefined)[], confidence: number): CandidateMap[] {
  const channels = MAP_CHANNELS.slice(1);
  return roles.flatMap((role, i) => {
    const there = i < 3 ? image.channels >= 3 : image.channels === 4;
    return role && there ? [mapOf(image, role, confidence, channels[i])] : [];
  });
}

/** A file whose name says nothing, beside a base color: what the pixels say, or a question. */
function silentMap(
  image: IntakeImage,
  opinion: PixelOpinion | undefined,
  named: boolean,
  base: { width: number; height: number },
): CandidateMap {
  // A second coloured picture is one to compare with, all the more where it has another shape than the maps.
  if (opinion?.likely[0] === "base_color" && image.reading && image.reading.spread >= GREY) {
    const shaped = Math.abs(image.width / image.height / (base.width / base.height) - 1) > 0.02;
    return shaped
      ? mapOf(image, "reference", 0.65)
      : { ...mapOf(image, "unknown", 0), likely: ["reference", "emission_color", "specular_color"] };
  }
  const likely = opinion?.likely.filter((role) => !(named && role === "base_color")) ?? [];
  const roughOrGloss = likely[0] === "specular_roughness" || likely[0] === "gloss";
  if (
    opinion &&
    likely.length > 0 &&
    likely[0] === opinion.likely[0] &&
    opinion.sure >= SURE_ENOUGH &&
    !roughOrGloss
  )
    return mapOf(image, likely[0], opinion.sure * 0.9);
  return { ...mapOf(image, "unknown", 0), likely };
}

function ordered(likely: Role[], opinion: PixelOpinion | undefined): Role[] {
  const first = opinion?.likely.find((role) => likely.includes(role));
  return first ? [first, ...likely.filter((role) => role !== first)] : likely;
}

/** Where several files have silent names, the one that the pixels take for the colours. */
function baseByPixels(group: Named[], opinions: (PixelOpinion | undefined)[]): IntakeImage | undefined {
  const silent = group
    .map(({ image, reading }, i) => ({ image, reading, opinion: opinions[i] }))
    .filter(({ reading }) => !reading.role && !reading.packed && !reading.doubt);
  if (silent.length < 2) return silent[0]?.image;
  return (silent.find(({ opinion }) => opinion?.likely[0] === "base_color") ?? silent[0]).image;
}

/** A single picture in high dynamic range, twice as wide as high. */
function isEnvironment(image: IntakeImage, group: Named[]): boolean {
  const panorama = Math.abs(image.width / image.height - 2) < 0.02;
  const bright = image.range === undefined || image.range.max > 1.2 || image.format === "hdr";
  return (
    group.length === 1 &&
    panorama &&
    image.bitDepth === 32 &&
    image.channels >= 3 &&
    bright &&
    !group[0].reading.role
  );
}

function nameOf(group: Named[]): string {
  const { image, reading } = group[0];
  const folder = image.file.split(/[\\/]/).at(-2);
  const name =
    reading.stem ||
    reading.folder.split("/").at(-1) ||
    folder ||
    image.scope
      .split("/")
      .at(-1)!
      .replace(/\.[a-z0-9]+$/i, "") ||
    "Unnamed";
  return name.charAt(0).toUpperCase() + name.slice(1);
}

/** The folder as it is written in the upload. */
function folderOf(image: IntakeImage, folder: string): string {
  const parts = image.file.split(/[\\/]/).slice(0, -1);
  return folder === "" ? "" : parts.join("/");
}
