import type { CandidateMap, IntakeImage } from "#core/candidates/candidate";
import { hasOrientation, rangeTreatment } from "#core/findings/aboutFiles";
import { type Finding, finding } from "#core/findings/finding";
import type { FindingCode, ToldOf } from "#core/findings/kinds";
import type { Reflectance } from "#core/judge/reflectance";
import type { PixelOpinion, PixelReason } from "#core/maps/rolesFromPixels";
import { isColorRole, kindOfRole, type Role } from "#core/roles/roles";

/** Blocks above this ratio come from a JPEG, whatever the file is now. */
const BLOCKY = 1.25;
/** Shares of a colour map's area outside what real surfaces reflect that are worth a word. */
const TOO_DARK = 0.1;
const TOO_LIGHT = 0.05;

/**
 * What is to be said of one map and the file that it is in.
 * @param reflectance of what an opacity map of the set shows, in place of the whole file's
 */
export function judgeFile(
  image: IntakeImage,
  map: CandidateMap,
  opinion: PixelOpinion | undefined,
  reflectance: Reflectance | undefined = image.reading,
): Finding[] {
  const findings: Finding[] = [];
  if (map.leftOut) return findings;
  const add: Add = (code, told) => findings.push(finding(code, told, map.file));
  if (map.channel === "color" || map.channel === "red") aboutFile(image, map, add);
  if (map.channel !== "color") {
    // The fourth channel of a normal map is spoken of with its file.
    if (map.role === "unknown" && map.channel !== "alpha") aboutUnknown(map, opinion, add);
    return findings;
  }
  if (map.role === "unknown") aboutUnknown(map, opinion, add);
  else if (image.reading) {
    aboutPixels(image, map.role, opinion, add);
    if (map.role === "base_color" && reflectance) aboutColors(reflectance, add);
  }
  if (map.role === "bump") add("bump-has-no-unit", {});
  aboutAlpha(image, map, add);
  return findings;
}

type Add = <C extends FindingCode>(code: C, told: ToldOf<C>) => void;

function aboutFile(image: IntakeImage, map: CandidateMap, add: Add): void {
  const { range, profile, pages = 1, orientation = 1 } = image;
  const isColor = isColorRole(map.role);
  if (image.mistakenFor) add("extension-differs", { format: image.mistakenFor });
  if (image.damaged) add("damaged", {});
  if (pages > 1) add("several-pages", { pages });
  if (range?.broken) add("broken-samples", { count: range.broken });
  const outside = range && (range.min < -1e-4 || range.max > 1.0001);
  if (outside && map.role !== "environment")
    add("range", { min: range.min, max: range.max, treated: rangeTreatment(map.role, range.grey) });
  if (profile !== undefined && map.role !== "unknown")
    add(isColor ? "profile-converted" : "profile-ignored", { profile });
  else if (image.profileUnreadable && isColor) add("profile-unreadable", {});
  else if (image.colorSpace === "cmyk") add("inks-without-profile", {});
  if (hasOrientation(orientation))
    add("orientation-applied", { orientation, isNormal: map.role === "geometry_normal" });
}

/**
 * Glass and lace fade: much of them is clear or full all the same, unlike a gloss that was put into a fourth channel. What is full
 * nearly everywhere hides nothing.
 */
export function mayFade({ alpha, reading }: IntakeImage): boolean {
  const values = reading?.alpha;
  return alpha === "varied" && values ? values.low + values.high > 0.5 && values.mean < 0.95 : false;
}

function aboutAlpha(image: IntakeImage, map: CandidateMap, add: Add): void {
  if (image.alpha === "constant") add("alpha-dropped", {});
  if (image.alpha !== "varied") return;
  if (map.role === "geometry_normal") add("alpha-may-be-height", {});
  else if (mayFade(image) && map.role === "base_color") add("alpha-is-asked", {});
  else add("alpha-not-opacity", {});
}

function aboutUnknown(map: CandidateMap, opinion: PixelOpinion | undefined, add: Add): void {
  add("role-unknown", { likely: map.likely, reason: opinion?.why ?? null });
}

function aboutPixels(image: IntakeImage, role: Role, opinion: PixelOpinion | undefined, add: Add): void {
  const reading = image.reading!;
  const looks = opinion?.likely[0];
  const isClear = (opinion?.sure ?? 0) > 0.85;
  const disagree = (isSure: boolean, reason: PixelReason) =>
    add("name-and-pixels-disagree", { role, reason, isSure });
  if (
    role === "geometry_normal" &&
    reading.normal &&
    reading.normal.unit < 0.5 &&
    looks !== "geometry_normal"
  )
    disagree(true, { sign: "few-unit-vectors", share: reading.normal.unit });
  else if (
    role !== "geometry_normal" &&
    role !== "reference" &&
    looks === "geometry_normal" &&
    isClear &&
    opinion?.why
  )
    disagree(true, opinion.why);
  else if (kindOfRole(role).holds === "grey" && reading.spread > 0.05)
    disagree(false, { sign: "luminance-taken" });
  else if (
    looks === "height" &&
    isClear &&
    opinion?.why &&
    (role === "ambient_occlusion" || role === "base_metalness")
  )
    disagree(false, opinion.why);
  else if (role === "ambient_occlusion" && reading.color[0].mean < 0.35)
    disagree(false, { sign: "dark-occlusion", share: reading.color[0].mean });

  if (!isColorRole(role)) aboutData(image, role, add);
}

function aboutColors({ dark, light }: Reflectance, add: Add): void {
  if (dark > TOO_DARK) add("too-dark", { share: dark });
  if (light > TOO_LIGHT) add("too-light", { share: light });
}

function aboutData(image: IntakeImage, role: Role, add: Add): void {
  const reading = image.reading!;
  const isPrecise = role === "geometry_normal" || role === "height" || role === "bump";
  if (image.bitDepth === 16 && reading.usedBits === 8) add("eight-bits-in-sixteen", { isPrecise });
  if (reading.blocks > BLOCKY && image.width >= 64) add("jpeg-blocks", { isPrecise, ratio: reading.blocks });
  const [channel] = reading.color;
  if (reading.color.every(({ deviation }) => deviation < 0.002) && role !== "geometry_normal")
    add("flat", { value: channel.mean });
}
