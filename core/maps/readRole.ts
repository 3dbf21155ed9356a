import type { NormalDirection, Role } from "#core/maps/roles";

/** What a file name says of the image in it. */
export interface NameReading {
  /** What is left of the name without role, resolution, bit depth and version marks; joins files of one set. */
  stem: string;
  /** What would be left if the role word belonged to the name after all ("brushed metal"). */
  wholeStem: string;
  role?: Role;
  /** 0..1: how sure the role is. */
  confidence: number;
  normalDirection?: NormalDirection;
  /** A mark that nobody can be sure of (`_sm`), with the roles it is likely to mean, most likely first. */
  doubt?: { mark: string; likely: Role[] };
}

interface RoleWord {
  role: Role;
  /** The word or words, split as file names are split. */
  words: string;
  sure: number;
  normalDirection?: NormalDirection;
}

const CERTAIN = 0.98;
const USUAL = 0.9;
const WEAK = 0.6;

/** A table row: role, how sure, and the words separated by "|". */
const word = (role: Role, sure: number, words: string, normalDirection?: NormalDirection): RoleWord[] =>
  words.split("|").map((words) => ({ role, words, sure, normalDirection }));

/**
 * The usual words and abbreviations. Longer sequences are tried first. Words that also describe a material in
 * plain English ("metal", "rough") are weak: another file of the same name outvotes them.
 */
const ROLE_WORDS: RoleWord[] = [
  ...word(
    "base_color",
    CERTAIN,
    "base color|base colour|basecolor|basecolour|albedo|diffuse|diffuse color|diffuse colour",
  ),
  ...word("base_color", USUAL, "color|colour|col|diff|dif|alb|bc|color map|colour map"),
  ...word("base_color", WEAK, "d|c|base|tex"),
  ...word("specular_roughness", CERTAIN, "roughness|specular roughness"),
  ...word("specular_roughness", USUAL, "rough|rgh|rou|rghns"),
  ...word("specular_roughness", WEAK, "r"),
  ...word("gloss", CERTAIN, "gloss|glossiness|smoothness|gls|glossy"),
  ...word("gloss", WEAK, "smooth"),
  ...word("base_metalness", CERTAIN, "metalness|metallic|metallicity|metalic|base metalness"),
  ...word("base_metalness", USUAL, "met|mtl|metl"),
  ...word("base_metalness", WEAK, "metal"),
  ...word("geometry_normal", CERTAIN, "normal|normals|normal map|normalmap|geometry normal"),
  ...word("geometry_normal", USUAL, "nrm|nor|norm|nm|nml|nmap|norms"),
  ...word("geometry_normal", WEAK, "n"),
  ...word(
    "geometry_normal",
    CERTAIN,
    "normal gl|normalgl|nor gl|nrm gl|normal ogl|normalogl|normal plus y|normal y plus|normal yplus|normal up",
    "+Y",
  ),
  ...word(
    "geometry_normal",
    CERTAIN,
    "normal dx|normaldx|nor dx|nrm dx|normal minus y|normal y minus|normal yminus|normal down",
    "-Y",
  ),
  ...word("height", CERTAIN, "height|displacement|height map|heightmap|displace"),
  ...word("height", USUAL, "disp|dis|dsp|hgt|hght|depth|displ"),
  ...word("height", WEAK, "h"),
  ...word("bump", CERTAIN, "bump|bump map|bumpmap"),
  ...word("bump", USUAL, "bmp"),
  ...word("bump", WEAK, "b"),
  ...word("ambient_occlusion", CERTAIN, "ambient occlusion|ambientocclusion|occlusion|ao"),
  ...word("ambient_occlusion", USUAL, "amb occ|occ|ambient"),
  ...word("geometry_opacity", CERTAIN, "opacity|geometry opacity"),
  ...word("geometry_opacity", USUAL, "alpha|cutout|cut out|transparency|opac|alpha mask"),
  ...word("geometry_opacity", WEAK, "mask"),
  ...word("subsurface_color", CERTAIN, "translucency|translucent|translucence|subsurface color"),
  ...word("subsurface_color", USUAL, "transl|trl|sss|subsurface"),
  ...word("transmission_weight", CERTAIN, "transmission|transmissive"),
  ...word("emission_color", CERTAIN, "emission|emissive|emission color"),
  ...word("emission_color", USUAL, "emit|emis|emissiveness|glow|self illumination"),
  ...word("specular_weight", CERTAIN, "specular|specular level|specularlevel|specular weight"),
  ...word("specular_weight", USUAL, "spec|spc|reflection|refl|specularity"),
  ...word("specular_color", CERTAIN, "specular color|specular colour|specularcolor|spec color"),
  ...word("coat_weight", CERTAIN, "clear coat|clearcoat|coat weight"),
  ...word("coat_weight", USUAL, "coat"),
  ...word("reference", USUAL, "preview|reference|thumbnail|thumb|render|sphere"),
];

/** Marks with several readings: asked, never guessed. The likely answers are ordered. */
const DOUBTFUL: Record<string, Role[]> = {
  sm: ["specular_weight", "gloss", "specular_roughness"],
  s: ["specular_weight", "gloss", "specular_roughness"],
  g: ["gloss", "specular_roughness"],
  m: ["base_metalness", "geometry_opacity"],
  t: ["subsurface_color", "transmission_weight", "base_color"],
  e: ["emission_color"],
  o: ["geometry_opacity", "ambient_occlusion"],
};

const BY_LENGTH = [...ROLE_WORDS]
  .map((entry) => ({ ...entry, tokens: entry.words.split(" ") }))
  .sort((a, b) => b.tokens.length - a.tokens.length);

const PLUS_Y = new Set(["gl", "ogl", "plusy", "yplus", "yup"]);
const MINUS_Y = new Set(["dx", "minusy", "yminus", "ydown"]);
const NEUTRAL = new Set([
  "seamless",
  "tileable",
  "tiled",
  "tiling",
  "jpg",
  "jpeg",
  "png",
  "tif",
  "tiff",
  "tga",
  "webp",
]);

/**
 * Reads the role, and for a normal map its direction, from a file name. Separators, case, camel case, glued digits,
 * resolution, bit depth and version marks may come in any order: the last role word wins, since the words
 * before it are the name of the material.
 */
export function readRole(fileName: string): NameReading {
  const tokens = splitName(fileName);
  const plain = tokens.filter((token) => !isMark(token));
  const wholeStem = plain.join(" ");

  const found = lastRoleWord(plain);
  if (found) {
    const { entry, at } = found;
    const rest = plain.filter((_, i) => i < at || i >= at + entry.tokens.length);
    const direction = entry.normalDirection ?? directionIn(rest.slice(at));
    const isNormal = entry.role === "geometry_normal";
    return {
      stem: (isNormal ? rest.filter((token, i) => i < at || !isDirection(token)) : rest).join(" "),
      wholeStem,
      role: entry.role,
      confidence: entry.sure,
      ...(isNormal && direction ? { normalDirection: direction } : {}),
    };
  }

  const last = plain.at(-1);
  if (last !== undefined && plain.length > 1 && Object.hasOwn(DOUBTFUL, last)) {
    return {
      stem: plain.slice(0, -1).join(" "),
      wholeStem,
      confidence: 0,
      doubt: { mark: last, likely: DOUBTFUL[last] },
    };
  }
  return { stem: wholeStem, wholeStem, confidence: 0 };
}

/** Lower-case words of a name without its folder and extension; "+Y" and "-Y" become words of their own. */
function splitName(fileName: string): string[] {
  return fileName
    .replace(/^.*[\\/]/, "")
    .replace(/\.[a-z0-9]{2,5}$/i, "")
    .replaceAll(/(?:\+[yY](?![a-z])|plus[-_ ]?[yY](?![a-z]))/g, "_plusy_")
    .replaceAll(/(?:minus[-_ ]?[yY](?![a-z]))/g, "_minusy_")
    .replaceAll(/(?<=[a-zA-Z])-[Y](?![a-zA-Z])/g, "_minusy_")
    .replaceAll(/\(\d+\)$/g, "")
    .replaceAll(/([a-z])([A-Z])/g, "$1_$2")
    .replaceAll(/([A-Z])([A-Z][a-z])/g, "$1_$2")
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
    .map((token) => token.toLowerCase())
    .flatMap(unglue);
}

/** `normal2k` and `nor16` come apart; `wood01` and `2k` stay. */
function unglue(token: string): string[] {
  const match = /^(\p{L}+)(\d+(?:k|bit)?)$/u.exec(token);
  if (!match || /^v\d/.test(token)) return [token];
  const [, letters, digits] = match;
  const known =
    letters.length > 1 && BY_LENGTH.some((entry) => entry.tokens.length === 1 && entry.words === letters);
  return known ? [letters, digits] : [token];
}

const isDirection = (token: string) => PLUS_Y.has(token) || MINUS_Y.has(token);

/** Resolution, bit depth, version and file-type marks, which say nothing of the role or the material. */
function isMark(token: string): boolean {
  return (
    /^\d{1,2}k$/.test(token) ||
    /^(8|16|32)(bit|bits|bpc)?$/.test(token) ||
    /^(bit|bits|bpc|px)$/.test(token) ||
    /^(256|512|1024|2048|4096|8192|16384)(px)?$/.test(token) ||
    /^\d{3,5}x\d{3,5}(px)?$/.test(token) ||
    /^v\d+$/.test(token) ||
    NEUTRAL.has(token)
  );
}

function lastRoleWord(tokens: string[]) {
  for (let end = tokens.length; end > 0; end--) {
    for (const entry of BY_LENGTH) {
      const at = end - entry.tokens.length;
      if (at < 0 || !entry.tokens.every((token, i) => tokens[at + i] === token)) continue;
      // A single letter says something only as the last word, behind a name.
      if (entry.words.length === 1 && (at === 0 || end !== tokens.length)) continue;
      return { entry, at };
    }
  }
  return undefined;
}

function directionIn(tokens: string[]): NormalDirection | undefined {
  if (tokens.some((token) => PLUS_Y.has(token))) return "+Y";
  if (tokens.some((token) => MINUS_Y.has(token))) return "-Y";
  return undefined;
}
