import { kindOfRole, type NormalDirection, type Role, ROLES } from "#core/roles/roles";

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
  /** Roles of red, green, blue and the fourth channel, where one file holds several maps. */
  packed?: (Role | undefined)[];
  /** Folders above the file without those that only say a role, a resolution or "textures"; joins files of one set. */
  folder: string;
  /** Whether the name is that of a layer of stains, scuffs or dust. */
  wear: boolean;
  /** A mark that nobody can be sure of (`_sm`), with the roles it is likely to mean, most likely first. */
  doubt?: { mark: string; likely: Role[] };
  /** The one letter that the role, or the doubt, was read from: it may belong to the name (`kerbstone_a`). */
  letter?: string;
  /** Whether the role word stands before the name: it may be a prefix of all files of a folder (`mtl_`). */
  leading?: boolean;
  /** The stem without what stands behind the role word, where that is a variant (`color_red`). */
  stemWithoutVariant?: string;
  /** The stem without a second word for the same role (`diffuse_albedo`), which may belong to the name (`tricolor_color`). */
  stemWithoutTwin?: string;
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

/** One row for each word of a list that is separated by "|". */
const word = (role: Role, sure: number, words = "", normalDirection?: NormalDirection): RoleWord[] =>
  words === "" ? [] : words.split("|").map((words) => ({ role, words, sure, normalDirection }));

/** The words of all roles; longer sequences are tried first. */
const ROLE_WORDS: RoleWord[] = [
  ...ROLES.flatMap((role) => {
    const { certain, usual, weak, plusY, minusY } = kindOfRole(role).words ?? {};
    return [
      ...word(role, CERTAIN, certain),
      ...word(role, USUAL, usual),
      ...word(role, WEAK, weak),
      ...word(role, CERTAIN, plusY, "+Y"),
      ...word(role, CERTAIN, minusY, "-Y"),
    ];
  }),
  ...ROLES.flatMap((role) =>
    word(role, WEAK, kindOfRole(role).words?.glued).map((entry) => ({ ...entry, words: `~${entry.words}` })),
  ),
];

/** Words that end like a role and say none. */
const ENDS_LIKE_A_ROLE =
  /^(?:(?:tri|bi|uni|multi|poly|water|techni|dis|full|off|two|three)colou?r|.*(?:en|th|tr|bo|tho|fur|bor|thor)rough|(?:en|th|tr|bo|thor|bor)ough|(?:speed|goose)bump|(?:high|semi|lip|hi|full)gloss|(?:para|ab|sub)normals?)$/;

const LETTERS: Record<string, Role | undefined> = {
  A: "ambient_occlusion",
  R: "specular_roughness",
  M: "base_metalness",
  H: "height",
  O: "geometry_opacity",
  G: "gloss",
  S: "specular_weight",
};

/** Marks of files that hold a map in each channel: red, green, blue and the fourth. */
const PACKED: Record<string, (Role | undefined)[]> = Object.fromEntries(
  (
    [
      [
        "orm|aorm|occlusionroughnessmetallic|occlusionroughnessmetalness|occroughmetal|arm|aorm|aoroughmetal|aoroughnessmetallic",
        "ARM",
      ],
      ["mra|mrao|metalroughao|metallicroughnessao", "MRA"],
      ["rma|rmao|roughmetalao|roughnessmetallicao", "RMA"],
      ["mro", "MRA"],
      ["rom", "RAM"],
      ["omr|amr", "AMR"],
      ["mor|mar", "MAR"],
      ["ord|arh|ard|orh|aorh", "ARH"],
      ["orma", "ARMO"],
      ["rmh", "RMH"],
      ["ormh|armh|ormd", "ARMH"],
      ["mrah", "MRAH"],
      ["metallicroughness|metalroughness|roughnessmetallic|metalrough", "_RM"],
      ["metallicsmoothness|metallicgloss|metalsmoothness", "M__G"],
      ["maskmap", "MA_G"],
      ["specgloss|specularsmoothness|specularglossiness", "S__G"],
    ] as const
  ).flatMap(([words, channels]) =>
    words.split("|").map((mark) => [mark, [...channels].map((letter) => LETTERS[letter])]),
  ),
);

/** Words of layers that lie over a finish. */
const WEAR = new Set(
  (
    "scratch|scratches|scratched|scuff|scuffs|smudge|smudges|smear|smears|fingerprint|fingerprints|dust|dusty|grunge|stain|stains|leak|leaks|" +
    "streaks|streak|imperfection|imperfections|dirtmask|splatter|splatters|drips|waterstain|waterstains|edgewear|wearmask|grime|" +
    "kratzer|flecken|schmutz|staub|fingerabdrucke|abnutzung|rayures|taches|poussiere|salissures|rayones|aranazos|manchas|polvo|huellas|graffi|macchie|polvere|impronte|sporco"
  ).split("|"),
);

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

const PLUS_Y = new Set(["gl", "ogl", "opengl", "plusy", "yplus", "yup", "ypos"]);
const MINUS_Y = new Set(["dx", "directx", "minusy", "yminus", "ydown", "yneg"]);
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
  "exr",
  "hdr",
  "avif",
  "map",
  "lq",
  "hq",
  "hires",
  "lores",
  "srgb",
  "linear",
  "raw",
  "nahtlos",
  "kachelbar",
  "noncolor",
  "lin",
  "float",
  "acescg",
  "aces",
  "rec709",
]);

/** What stands between "map" and its role in other languages: carte de rugosité, mapa de normales. */
const MAP_WORDS = new Set(["carte", "mapa", "mappa", "textura", "texture"]);
const LINKS = new Set(["de", "des", "du", "d", "di", "del", "della", "delle", "do", "da", "das", "la"]);

/** Folders that say nothing of the material. */
const PLAIN_FOLDER =
  /^(maps?|textures?|texturen|images?|bilder|tex|png|jpe?g|tiff?|exr|tga|materials?|source|files)$/;

/**
 * Reads the role, and for a normal map its direction, from a file name. Separators, case, camel case, glued digits,
 * resolution, bit depth and version marks may come in any order: the last role word wins, since the words
 * before it are the name of the material. Where the name is silent, a folder that is called like a role speaks for it.
 */
export function readRole(fileName: string): NameReading {
  const parts = fileName.split(/[\\/]/);
  const folders = parts.slice(0, -1).map((name) => ({
    name,
    plain: splitName(`${name}.x`)
      .map(folded)
      .filter((token) => !isMark(token)),
  }));
  const own = readName(parts.at(-1)!);
  const saying = own.role || own.packed ? undefined : roleFolder(folders.at(-1)?.plain);
  const folder = folders
    .filter(
      ({ plain }, i) =>
        plain.length > 0 &&
        !(i === folders.length - 1 && roleFolder(plain)) &&
        !PLAIN_FOLDER.test(plain.join(" ")),
    )
    .map(({ plain }) => plain.join(" "))
    .join("/");
  if (!saying) return { ...own, folder };
  const { doubt: _, ...rest } = own;
  return {
    ...rest,
    stem: own.wholeStem,
    folder,
    role: saying.role,
    confidence: saying.sure * 0.95,
    ...(saying.normalDirection && { normalDirection: saying.normalDirection }),
  };
}

/** Without marks of size and encoding; `map` is one behind a role, and a name where it leads and nothing else is said. */
function sayingWords(words: string[]): string[] {
  const saying = words.filter((token) => !isMark(folded(token)));
  const isAll =
    words[0] !== undefined && folded(words[0]) === "map" && saying.every(({ length }) => length === 1);
  return isAll ? [words[0], ...saying] : saying;
}

/** The role that a whole folder name says, where it is no plain word of a material. */
function roleFolder(plain: string[] | undefined): RoleWord | undefined {
  const words = plain?.join(" ");
  return BY_LENGTH.find((entry) => entry.words === words && entry.sure >= USUAL && words.length > 1);
}

function readName(fileName: string): Omit<NameReading, "folder"> {
  const words = sayingWords(splitName(fileName));
  const plain = words.map(folded);
  // What was heard at the end of a longer word belongs to it, if it was no role after all.
  const wholeStem = words.join(" ").replaceAll(" ~", "");
  const wear = plain.some((token) => WEAR.has(token));

  for (let count = Math.min(4, plain.length - 1); count > 0; count--) {
    const mark = plain.slice(-count).join("");
    // "metallicRoughness" is a pack; in "brushed_metal_roughness" the words stand apart and are no pack.
    if (!Object.hasOwn(PACKED, mark) || !fileName.toLowerCase().includes(mark)) continue;
    return {
      stem: words.slice(0, -count).join(" "),
      wholeStem,
      confidence: 0.92,
      packed: PACKED[mark],
      wear,
    };
  }

  const last = plain.at(-1);
  const doubtful = last !== undefined && plain.length > 1 && Object.hasOwn(DOUBTFUL, last);
  const found = lastRoleWord(plain);
  // "lime_render_s": the doubtful mark is the role, and "render" belongs to the name.
  if (found && !(doubtful && found.at + found.entry.tokens.length < plain.length)) {
    const { entry, at } = found;
    const end = at + entry.tokens.length;
    const direction = entry.normalDirection ?? directionIn(plain.slice(end));
    const isNormal = entry.role === "geometry_normal";
    const from = afterLinks(plain, at);
    const twin = twinBefore(plain, from, entry.role);
    const behind = words.filter((_, i) => i >= end && !(isNormal && isDirection(plain[i])));
    const before = words.slice(0, from);
    return {
      stem: [...before, ...behind].join(" "),
      wholeStem,
      role: entry.role,
      confidence: entry.sure,
      wear,
      ...(entry.words.length === 1 && { letter: entry.words }),
      ...(twin !== undefined &&
        twin > 0 && { stemWithoutTwin: [...words.slice(0, twin), ...behind].join(" ") }),
      ...(from === 0 && behind.length > 0 && { leading: true }),
      ...(entry.role === "base_color" &&
        before.length > 0 &&
        behind.length > 0 && { stemWithoutVariant: before.join(" ") }),
      ...(isNormal && direction ? { normalDirection: direction } : {}),
    };
  }

  if (doubtful) {
    return {
      stem: words.slice(0, -1).join(" "),
      wholeStem,
      confidence: 0,
      wear,
      doubt: { mark: last, likely: DOUBTFUL[last] },
      ...(last.length === 1 && { letter: last }),
    };
  }
  return { stem: wholeStem, wholeStem, confidence: 0, wear };
}

/** Without accents, so that words are found however they are spelt. */
const folded = (word: string) => word.normalize("NFD").replaceAll(/\p{M}/gu, "").replaceAll("ß", "ss");

/** Lower-case words of a name without its folder and extension; "+Y" and "-Y" become words of their own. */
function splitName(fileName: string): string[] {
  return fileName
    .replace(/^.*[\\/]/, "")
    .replace(/\.[a-z0-9]{1,5}$/i, "")
    .normalize("NFC")
    .replaceAll(/(?:\+[yY](?![a-z])|plus[-_ ]?[yY](?![a-z]))/g, "_plusy_")
    .replaceAll(/(?:minus[-_ ]?[yY](?![a-z]))/g, "_minusy_")
    .replaceAll(/(?<=[a-zA-Z])-[Y](?![a-zA-Z])/g, "_minusy_")
    .replaceAll(/non[-_ ]?colou?r(?![a-z])/gi, "_noncolor_")
    .replaceAll(/[\s_-]*\(\d+\)$/g, "")
    .replaceAll(/[\s_-]+(copy|kopie|copie|copia)$/gi, "")
    .replaceAll(/([a-z])([A-Z])/g, "$1_$2")
    .replaceAll(/([A-Z])([A-Z][a-z])/g, "$1_$2")
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean)
    .map((token) => token.toLowerCase())
    .flatMap(unglue);
}

/** Words long and rare enough to be heard at the end of a longer one. */
const GLUED =
  /^(\p{L}{3,}?)(roughness|basecolou?r|albedo|diffuse|normalmap|heightmap|displacement|metallic|metalness|glossiness|opacity|emissive|normals?|specular|roughnes|height)$/u;

/** A role word of German or Dutch with "map" behind it: Rauheitskarte, hoogtekaart. */
const COMPOUND = /^(\p{L}{4,}?)(?:s|n|en)?(?:karte|textur|bild|maske|map|kaart)$/u;

/** `normal2k`, `nor16`, `wallnormal` and `gl16` come apart; `wood01` and `2k` stay. */
function unglue(token: string): string[] {
  const match = /^(\p{L}+)(\d+(?:k|bit)?)$/u.exec(token);
  if (match && !/^v\d/.test(token)) {
    const [, letters, digits] = match;
    if (letters.length > 1 && isKnown(folded(letters))) return [letters, digits];
    if (isDirection(letters)) return [letters, digits];
    const parts = unglueWords(letters);
    return parts.length > 1 ? [...parts, digits] : [token];
  }
  return unglueWords(token);
}

/** Where "carte de" before a role word begins, or the word itself. */
function afterLinks(tokens: string[], at: number): number {
  const link = at > 1 && LINKS.has(tokens[at - 1]) ? at - 1 : at;
  return link > 1 && MAP_WORDS.has(tokens[link - 1]) ? link - 1 : at;
}

/** Where a second word for the same role begins right before the first. */
function twinBefore(tokens: string[], at: number, role: Role): number | undefined {
  const twin = BY_LENGTH.find(
    (entry) =>
      entry.role === role &&
      entry.sure >= USUAL &&
      entry.tokens.length <= at &&
      entry.tokens.every((token, i) => tokens[at - entry.tokens.length + i] === token),
  );
  return twin && at - twin.tokens.length;
}

const isKnown = (word: string) =>
  BY_LENGTH.some((entry) => entry.tokens.length === 1 && entry.words === word) || Object.hasOwn(PACKED, word);

function unglueWords(token: string): string[] {
  const plain = folded(token);
  if (isKnown(plain) || ENDS_LIKE_A_ROLE.test(plain)) return [token];
  const base = COMPOUND.exec(plain)?.[1];
  if (base !== undefined) {
    const heard = [base, `${base}s`, `${base}e`, `${base}en`, `${base}n`].find(isKnown);
    if (heard !== undefined) return [heard];
  }
  const match = GLUED.exec(token);
  if (match) return [match[1], match[2]];
  const soft = /^(\p{L}{4,}?)(colou?r|rough|disp|bump|gloss)$/u.exec(token);
  return soft ? [soft[1], `~${soft[2]}`] : [token];
}

const isDirection = (token: string) => PLUS_Y.has(token) || MINUS_Y.has(token);

/** Resolution, bit depth, version and file-type marks, which say nothing of the role or the material. */
function isMark(token: string): boolean {
  return (
    /^\d{1,2}k$/.test(token) ||
    /^(8|16|32)(bit|bits|bpc|b)?$/.test(token) ||
    /^(bit|bits|bpc|px)$/.test(token) ||
    /^(256|512|1024|2048|4096|8192|16384)(px)?$/.test(token) ||
    /^\d{2,5}x\d{2,5}(px)?$/.test(token) ||
    /^(1k|2k|4k|8k|16k)(jpg|png|tif|tiff|exr)$/.test(token) ||
    /^v\d+$/.test(token) ||
    /^(lin|linear|raw|float|f|exr)(8|16|32)$/.test(token) ||
    /^(8|16|32)f$/.test(token) ||
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
