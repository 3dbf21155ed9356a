import type { NormalDirection, Role } from "#core/roles/roles";

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

/** A table row: role, how sure, and the words separated by "|". */
const word = (role: Role, sure: number, words: string, normalDirection?: NormalDirection): RoleWord[] =>
  words.split("|").map((words) => ({ role, words, sure, normalDirection }));

/**
 * The usual words and abbreviations, in English, German, French, Spanish and Italian, without accents. Longer sequences are
 * tried first. Words that also describe a material in plain language ("metal", "rough") are weak: another file of the
 * same name outvotes them.
 */
const ROLE_WORDS: RoleWord[] = [
  ...word(
    "base_color",
    CERTAIN,
    "base color|base colour|basecolor|basecolour|base col|basecol|albedo|diffuse|diffuse color|diffuse colour|albedo color|" +
      "diffuse map|albedo map|grundfarbe|basisfarbe|diffus|couleur de base|couleur diffuse|diffuso|difuso|color base|" +
      "colore base|colore diffuso|color difuso|albedo transparency|cor base|cor difusa|diffusfarbe|basiskleur|mapa color|" +
      "mappa colore|carte diffuse|grundfarb",
  ),
  ...word(
    "base_color",
    USUAL,
    "color|colour|col|diff|dif|diffusemap|alb|bc|color map|colour map|colormap|clr|farbe|farben|farbtextur|couleur|couleurs|colore|colori|colores|coul|farb|kleur|cor|difusa",
  ),
  ...word("base_color", WEAK, "d|c|base|tex|texture|textur|textura|a|color1"),
  ...word(
    "specular_roughness",
    CERTAIN,
    "roughness|specular roughness|specularroughness|roughness map|rauheit|rauigkeit|rauhigkeit|rauhheit|rugosite|rugosidad|rugosita|ruvidezza|ruvidita|aspereza|rugueux|ruwheid",
  ),
  ...word("specular_roughness", USUAL, "rough|rgh|rou|rghns|roughnes|rugosidade|rugo|rauh|ruvido"),
  ...word("specular_roughness", WEAK, "r|rau|rug"),
  ...word(
    "gloss",
    CERTAIN,
    "gloss|glossiness|smoothness|gls|glossy|gloss map|glossmap|glanz|glanzgrad|brillance|brillo|lucidita|lucentezza|brillantezza|glaette|glatte|lissage|brilho|glans|glansgraad",
  ),
  ...word("gloss", USUAL, "glo|glossi|smth|smoothn"),
  ...word("gloss", WEAK, "smooth|brillant|lucido"),
  ...word(
    "base_metalness",
    CERTAIN,
    "metalness|metallic|metallicity|metalic|base metalness|metalness map|metallic map|metallisch|metallizitat|metallizitaet|metallique|metallicite|metalicidad|metallico|metallicita|metallness|metallicness|metallischkeit|metalicidade",
  ),
  ...word("base_metalness", USUAL, "met|mtl|metl|metalico|mtlc|metall|metalmap|mtlns"),
  ...word("base_metalness", WEAK, "metal|metallo"),
  ...word(
    "geometry_normal",
    CERTAIN,
    "normal|normals|normal map|normalmap|geometry normal|normalen|normale|normalenkarte|normalmaps|normales|normali|normal texture|tangent normal|carte normale|mapa normal|mapa normales|mappa normale|normais|normaal|normal bump|local",
  ),
  ...word("geometry_normal", USUAL, "nrm|nor|norm|nm|nml|nmap|norms|nrml|nrmap|norma|nmp"),
  ...word("geometry_normal", WEAK, "n|nr"),
  ...word(
    "geometry_normal",
    CERTAIN,
    "normal gl|normals gl|normalgl|nor gl|nrm gl|nrmgl|norgl|norm gl|normal ogl|normalogl|normal opengl|normalopengl|normal open gl|nor opengl|nrm ogl|normal plusy|normal y plus|normal yplus|normal up|normal ypos|normal map gl|normal map opengl|normalen gl|nm gl",
    "+Y",
  ),
  ...word(
    "geometry_normal",
    CERTAIN,
    "normal dx|normals dx|normaldx|nor dx|nrm dx|nrmdx|nordx|norm dx|normal directx|normaldirectx|normal direct x|nor directx|normal minusy|normal y minus|normal yminus|normal down|normal yneg|normal map dx|normal map directx|normalen dx|nm dx",
    "-Y",
  ),
  ...word(
    "height",
    CERTAIN,
    "height|displacement|height map|heightmap|displace|displacement map|dispmap|displacementmap|hohe|hoehe|hoehenkarte|hohenkarte|verschiebung|hauteur|deplacement|altura|desplazamiento|altezza|spostamento|elevation|hohen|hoehen|alturas|deslocamento|hoogte|verplaatsing|height displacement|displacement height",
  ),
  ...word("height", USUAL, "disp|dis|dsp|hgt|hght|depth|displ|hght|ht|hmap|dsplc|hauteurs|parallax|pom"),
  ...word("height", WEAK, "h|hi"),
  ...word("bump", CERTAIN, "bump|bump map|bumpmap|bumps|rilievo|relieve"),
  ...word("bump", USUAL, "bmp|bmap|bum|bmpmap"),
  ...word("bump", WEAK, "b|relief"),
  ...word(
    "ambient_occlusion",
    CERTAIN,
    "ambient occlusion|ambientocclusion|occlusion|ao|ambient occlusion map|ao map|aomap|occlusion ambiante|oclusion ambiental|oclusion|occlusione ambientale|occlusione|umgebungsverdeckung|verdeckung|umgebungsokklusion|okklusion|mixed ao|oclusao|oclusao ambiente|omgevingsocclusie|occlusie",
  ),
  ...word("ambient_occlusion", USUAL, "amb occ|occ|ambient|ambocc|occl|aocc|cavity"),
  ...word(
    "geometry_opacity",
    CERTAIN,
    "opacity|geometry opacity|opacity map|opacity mask|opacite|opacidad|opacita|deckkraft|opazitat|opazitaet|opacidade|dekking|transparantie|ondoorzichtigheid",
  ),
  ...word(
    "geometry_opacity",
    USUAL,
    "alpha|cutout|cut out|transparency|opac|alpha mask|alphamap|alpha map|transparenz|transparence|transparencia|trasparenza|opa|alphamask|cutoutmask|decoupe|maschera|mascara|masque|maske",
  ),
  ...word("geometry_opacity", WEAK, "mask|op|alp"),
  ...word(
    "subsurface_color",
    CERTAIN,
    "translucency|translucent|translucence|subsurface color|transluzenz|translucidite|translucidez|traslucenza|traslucido|translucency map|lichtdurchlass",
  ),
  ...word("subsurface_color", USUAL, "transl|trl|sss|subsurface|trans|tlc|scattering"),
  ...word("transmission_weight", CERTAIN, "transmission|transmissive|transmission weight|transmissionweight"),
  ...word(
    "emission_color",
    CERTAIN,
    "emission|emissive|emission color|emissive color|emissivecolor|emissioncolor|emissiv|emision|emissione|emissif|selbstleuchten|leuchten|leucht|emissive map|emisivo|emisividad|emissao|emissivo|emissie",
  ),
  ...word(
    "emission_color",
    USUAL,
    "emit|emis|emissiveness|glow|self illumination|selfillum|illum|emm|ems|emiss|glowmap|light map glow|luminance|em",
  ),
  ...word(
    "specular_weight",
    CERTAIN,
    "specular|specular level|specularlevel|specular weight|specular map|specularmap|spekular|speculaire|especular|speculare|specularweight",
  ),
  ...word(
    "specular_weight",
    USUAL,
    "spec|spc|reflection|refl|specularity|reflexion|reflect|reflectivity|ref l|riflessione|spiegelung|f0|spe",
  ),
  ...word(
    "specular_color",
    CERTAIN,
    "specular color|specular colour|specularcolor|spec color|specularcolour|spec col|spekularfarbe",
  ),
  ...word("coat_weight", CERTAIN, "clear coat|clearcoat|coat weight|coatweight|klarlack|vernis|barniz"),
  ...word("coat_weight", USUAL, "coat|cc|lacquer"),
  ...word(
    "reference",
    USUAL,
    "preview|reference|thumbnail|thumb|render|sphere|vorschau|apercu|anteprima|rendering|prev|vista previa|muestra|previa|referenz|referenzbild|sample picture|productshot|icon",
  ),
];

/** Short role words at the end of a longer one, where they may as well belong to it: heard, and believed where siblings agree. */
const SOFTLY_GLUED: Record<string, Role> = {
  color: "base_color",
  colour: "base_color",
  rough: "specular_roughness",
  disp: "height",
  bump: "bump",
  gloss: "gloss",
};
for (const [glued, role] of Object.entries(SOFTLY_GLUED)) ROLE_WORDS.push(...word(role, WEAK, `~${glued}`));

/** Words that end like a role and say none. */
const ENDS_LIKE_A_ROLE =
  /^(?:(?:tri|bi|uni|multi|poly|water|techni|dis|full|off|two|three)colou?r|.*(?:en|th|tr|bo|tho|fur|bor|thor)rough|(?:en|th|tr|bo|thor|bor)ough|(?:speed|goose)bump|(?:high|semi|lip|hi|full)gloss|(?:para|ab|sub)normals?)$/;

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
    words.split("|").map((mark) => [mark, [...channels].map((letter) => roleOfLetter(letter))]),
  ),
);

function roleOfLetter(letter: string): Role | undefined {
  const roles: Record<string, Role> = {
    A: "ambient_occlusion",
    R: "specular_roughness",
    M: "base_metalness",
    H: "height",
    O: "geometry_opacity",
    G: "gloss",
    S: "specular_weight",
  };
  return roles[letter];
}

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
