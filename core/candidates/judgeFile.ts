import type { CandidateMap, IntakeImage } from "#core/candidates/candidate";
import type { Finding } from "#core/findings/finding";
import { lastName } from "#core/maps/lastName";
import type { Reflectance } from "#core/judge/reflectance";
import type { PixelOpinion } from "#core/maps/rolesFromPixels";
import { isColorRole, ROLE_NAMES, type Role } from "#core/roles/roles";

/** Blocks above this ratio come from a JPEG, whatever the file is now. */
const BLOCKY = 1.25;
/** Shares of a colour map's area outside what real surfaces reflect that are worth a word. */
const TOO_DARK = 0.1;
const TOO_LIGHT = 0.05;

const GREY_ROLES = new Set<Role>([
  "specular_roughness",
  "gloss",
  "height",
  "bump",
  "ambient_occlusion",
  "base_metalness",
  "transmission_weight",
  "coat_weight",
]);

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
  const add = (level: Finding["level"], code: string, message: string) =>
    findings.push({ level, code, message, file: map.file });
  if (map.channel === "color" || map.channel === "red") aboutFile(image, map, add);
  if (map.channel !== "color") {
    // The fourth channel of a normal map is spoken of with its file.
    if (map.role === "unknown" && map.channel !== "alpha") aboutUnknown(image, map, opinion, add);
    return findings;
  }
  if (map.role === "unknown") aboutUnknown(image, map, opinion, add);
  else if (image.reading) {
    aboutPixels(image, map.role, opinion, add);
    if (map.role === "base_color" && reflectance) aboutColors(image, reflectance, add);
  }
  if (map.role === "bump")
    add(
      "note",
      "bump-has-no-unit",
      `${lastName(image.file)} is a bump map: a height without a unit, so how deep it is has to be assumed.`,
    );
  aboutAlpha(image, map, add);
  return findings;
}

/** EXIF 2.3, tag 274, in words. */
const ORIENTATIONS: Record<number, string | undefined> = {
  2: "mirrored",
  3: "turned by 180°",
  4: "mirrored and turned by 180°",
  5: "mirrored and turned by 90°",
  6: "turned by 90°",
  7: "mirrored and turned by 270°",
  8: "turned by 270°",
};

type Add = (level: Finding["level"], code: string, message: string) => void;

function aboutFile(image: IntakeImage, map: CandidateMap, add: Add): void {
  if (image.mistakenFor)
    add(
      "note",
      "extension-differs",
      `${lastName(image.file)} is ${image.mistakenFor.toUpperCase()} by its content; it was read as that.`,
    );
  if (image.damaged)
    add(
      "wrong",
      "damaged",
      `${lastName(image.file)} is damaged: it could be read, but parts of the picture are not what they were. Download it again.`,
    );
  if ((image.pages ?? 1) > 1)
    add("look", "several-pages", `${lastName(image.file)} holds ${image.pages} images; the first was read.`);
  if (image.range?.broken)
    add(
      "look",
      "broken-samples",
      `${lastName(image.file)} has ${image.range.broken} samples that are no number or infinite; they count as 0.`,
    );
  const outside = image.range && (image.range.min < -1e-4 || image.range.max > 1.0001);
  if (outside && map.role !== "environment")
    add(
      "note",
      "range",
      isColorRole(map.role as Role) || !image.range!.grey
        ? `${lastName(image.file)} runs from ${figure(image.range!.min)} to ${figure(image.range!.max)}; what lies outside 0 to 1 is cut off.`
        : map.role === "height"
          ? `${lastName(image.file)} runs from ${figure(image.range!.min)} to ${figure(image.range!.max)}: it is spread over 0 to 1, and its range is taken for millimetres. If it has another unit, set how deep it goes under Finish.`
          : `${lastName(image.file)} runs from ${figure(image.range!.min)} to ${figure(image.range!.max)}; it is spread over 0 to 1.`,
    );
  if (image.profile !== undefined && map.role !== "unknown")
    add(
      "note",
      isColorRole(map.role) ? "profile-converted" : "profile-ignored",
      isColorRole(map.role)
        ? `${lastName(image.file)} carries the colour profile “${image.profile}”; its colours are converted to sRGB.`
        : `${lastName(image.file)} carries the colour profile “${image.profile}”; it is data, so the profile is ignored.`,
    );
  else if (image.profileUnreadable && isColorRole(map.role as Role))
    add(
      "look",
      "profile-unreadable",
      `${lastName(image.file)} carries a colour profile that is damaged, or made for other pictures: its colours are taken for sRGB. Save it anew from where it comes from if they look wrong.`,
    );
  else if (image.colorSpace === "cmyk")
    add(
      "look",
      "inks-without-profile",
      `${lastName(image.file)} is made for printing and does not say for which inks: they are taken for those of a common press, so its colours are not certain.`,
    );
  const marked = ORIENTATIONS[image.orientation ?? 1];
  if (marked !== undefined)
    add(
      map.role === "geometry_normal" ? "look" : "note",
      "orientation-applied",
      map.role === "geometry_normal"
        ? `${lastName(image.file)} is marked as ${marked}, and was set upright; its vectors point as they did. See whether they still go with the relief.`
        : `${lastName(image.file)} is marked as ${marked}, and was set upright.`,
    );
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
  if (image.alpha === "constant")
    add(
      "note",
      "alpha-dropped",
      `${lastName(image.file)} has a fourth channel that is the same everywhere; it is left aside.`,
    );
  if (image.alpha === "varied" && map.role === "geometry_normal")
    add(
      "look",
      "alpha-may-be-height",
      `${lastName(image.file)} has a fourth channel that may hold the height. Give it that role, or leave it out.`,
    );
  else if (mayFade(image) && map.role === "base_color")
    add(
      "look",
      "alpha-is-asked",
      `${lastName(image.file)} has a fourth channel that is no plain cut-out: it may fade (glass, lace), or hold something else. Say what it is, or leave it out.`,
    );
  else if (image.alpha === "varied")
    add(
      "note",
      "alpha-not-opacity",
      `${lastName(image.file)} has a fourth channel that is no cut-out mask; it is left aside.`,
    );
}

function aboutUnknown(
  image: IntakeImage,
  map: CandidateMap,
  opinion: PixelOpinion | undefined,
  add: Add,
): void {
  const pixels = opinion?.why ? ` Its pixels: ${opinion.why}.` : "";
  add(
    "look",
    "role-unknown",
    map.likely.length > 0
      ? `${lastName(image.file)} may be ${map.likely.map((role) => ROLE_NAMES[role]).join(", ")}: say which, or leave it out.${pixels}`
      : `${lastName(image.file)} has no role word in its name: say what it is, or leave it out.${pixels}`,
  );
}

function aboutPixels(image: IntakeImage, role: Role, opinion: PixelOpinion | undefined, add: Add): void {
  const reading = image.reading!;
  const looks = opinion?.likely[0];
  const disagree = (level: Finding["level"], pixels: string) =>
    add(
      level,
      "name-and-pixels-disagree",
      `${lastName(image.file)} is read as ${ROLE_NAMES[role]}; its pixels say otherwise: ${pixels}.`,
    );
  if (
    role === "geometry_normal" &&
    reading.normal &&
    reading.normal.unit < 0.5 &&
    looks !== "geometry_normal"
  )
    disagree("wrong", `only ${percent(reading.normal.unit)} of them are unit vectors`);
  else if (
    role !== "geometry_normal" &&
    role !== "reference" &&
    looks === "geometry_normal" &&
    (opinion?.sure ?? 0) > 0.85
  )
    disagree("wrong", opinion!.why);
  else if (GREY_ROLES.has(role) && reading.spread > 0.05)
    disagree("look", "it is coloured; what is taken is its luminance");
  else if (
    looks === "height" &&
    (opinion?.sure ?? 0) > 0.85 &&
    (role === "ambient_occlusion" || role === "base_metalness")
  )
    disagree("look", opinion!.why);
  else if (role === "ambient_occlusion" && reading.color[0].mean < 0.35)
    disagree(
      "look",
      `it is dark on average (${percent(reading.color[0].mean)}), and an occlusion map is light`,
    );

  if (!isColorRole(role)) aboutData(image, role, add);
}

function aboutColors(image: IntakeImage, { dark, light }: Reflectance, add: Add): void {
  if (dark > TOO_DARK)
    add(
      "look",
      "too-dark",
      `${percent(dark)} of the area of ${lastName(image.file)} is darker than black velvet (it reflects 0.4 %): shadows may be painted in, or blacks cut off.`,
    );
  if (light > TOO_LIGHT)
    add(
      "look",
      "too-light",
      `${percent(light)} of the area of ${lastName(image.file)} is lighter than fresh snow (it reflects 90 %): it will look as if it glowed.`,
    );
}

function aboutData(image: IntakeImage, role: Role, add: Add): void {
  const reading = image.reading!;
  const precise = role === "geometry_normal" || role === "height" || role === "bump";
  if (image.bitDepth === 16 && reading.usedBits === 8)
    add(
      precise ? "look" : "note",
      "eight-bits-in-sixteen",
      `${lastName(image.file)} is a 16-bit file that holds only 8 bits.`,
    );
  if (reading.blocks > BLOCKY && image.width >= 64)
    add(
      precise ? "look" : "note",
      "jpeg-blocks",
      `${lastName(image.file)} shows the blocks of a JPEG (steps at every eighth pixel ${reading.blocks.toFixed(1)} times the others); as data that is noise.`,
    );
  const [channel] = reading.color;
  if (reading.color.every(({ deviation }) => deviation < 0.002) && role !== "geometry_normal")
    add(
      "note",
      "flat",
      `${lastName(image.file)} is one value throughout (${percent(channel.mean)}); a number would say the same.`,
    );
}

const percent = (share: number) => `${(share * 100).toFixed(share < 0.1 ? 1 : 0)} %`;
const figure = (value: number) => (Math.abs(value) >= 1000 ? value.toExponential(1) : value.toFixed(2));
