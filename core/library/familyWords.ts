import type { Family } from "#core/finish/family";

/** What a family itself is called, by which it is searched. In the singular; English, and what German, French, Italian and Spanish makers write. */
const NAMES: Record<Family, string> = {
  brick: "brick brickwork ziegel backstein klinker brique mattone ladrillo",
  stone: "stone stonework rock naturstein gestein pierre pietra piedra",
  timber: "timber wood wooden lumber holz bois legno madera",
  plaster: "plaster stucco putz enduit intonaco estuco",
  tile: "tile tiling fliese fliesen kachel kacheln carrelage piastrella azulejo",
  metal: "metal metalwork metall metallo",
  fabric: "fabric textile cloth stoff textil tissu tessuto tela",
  paint: "paint lacquer lack anstrich peinture vernice pintura",
  ground: "ground soil terrain erdreich terreno",
};

/** What is of a family wherever it stands in a name. */
const SIGNS: Record<Family, string> = {
  brick: "clinker stretcher",
  stone:
    "granite granit marble marmor marbre marmo limestone kalkstein sandstone sandstein slate schiefer travertine travertin basalt onyx quartzite terrazzo ashlar flagstone flags cobble cobblestone fieldstone",
  timber:
    "oak beech birch walnut pine spruce larch cedar maple teak mahogany fir eiche buche fichte kiefer larche nussbaum chene noyer plank plywood veneer parquet parkett decking hardwood softwood chipboard osb diele furnier",
  plaster: "gypsum roughcast pebbledash gips",
  tile: "mosaic mosaik pantile porcelain ceramic keramik",
  metal:
    "steel stahl iron eisen aluminium aluminum copper kupfer brass messing bronze zinc zink chrome rusty rusted galvanised galvanized sheetmetal",
  fabric:
    "wool linen cotton velvet felt carpet rug canvas denim silk leather upholstery curtain jute hessian burlap wolle leinen samt filz teppich leder",
  paint: "emulsion enamel limewash varnish",
  ground:
    "grass gravel sand mud dirt lawn moss snow asphalt tarmac pebble meadow paving paver pavement rasen gras kies schotter moos schnee pflaster gazon sable ghiaia",
};

/** Beginnings and ends that say so in words that are written as one: "woodfloor", "eichenholz". */
const BEGINS: [string, Family][] = [
  ["brick", "brick"],
  ["ziegel", "brick"],
  ["stone", "stone"],
  ["marmor", "stone"],
  ["wood", "timber"],
  ["holz", "timber"],
  ["plank", "timber"],
  ["stucco", "plaster"],
  ["plaster", "plaster"],
  ["metal", "metal"],
  ["steel", "metal"],
  ["fabric", "fabric"],
  ["carpet", "fabric"],
  ["grass", "ground"],
  ["gravel", "ground"],
];
const ENDS: [string, Family][] = [
  ["brick", "brick"],
  ["klinker", "brick"],
  ["ziegel", "brick"],
  ["stone", "stone"],
  ["wood", "timber"],
  ["holz", "timber"],
  ["putz", "plaster"],
  ["fliesen", "tile"],
  ["metal", "metal"],
  ["stoff", "fabric"],
  ["grass", "ground"],
];
/** What begins or ends so and is something else. */
const OTHERWISE = new Set(
  "tileable woodland stonewashed stoneware metallic baustoff kunststoff hollywood brickred firestone keystone".split(
    " ",
  ),
);

/** Words that are of a family only beside one of what it is made into: ash is also a grey, and cherry a red. */
const BESIDE: ReadonlyMap<string, Family> = new Map([
  ["ash", "timber"],
  ["elm", "timber"],
  ["cherry", "timber"],
  ["olive", "timber"],
]);
const MADE = new Set("floor flooring board deck door panel panelling table worktop".split(" "));
/** What grows on a tree is none of its timber, and none of the families. */
const NEITHER = new Set("leaf leave foliage flower branch tree conifer bush".split(" "));

const listed = (lists: Record<Family, string>) =>
  new Map(
    (Object.entries(lists) as [Family, string][]).flatMap(([family, words]) =>
      words.split(" ").map((word): [string, Family] => [word, family]),
    ),
  );
const [BY_NAME, BY_SIGN] = [listed(NAMES), listed(SIGNS)];

/** All that families are called, in the singular. */
export const FAMILY_NAMES: readonly string[] = [...BY_NAME.keys()];

/** Without accents, in small letters. */
const folded = (text: string) => text.normalize("NFD").replaceAll(/\p{M}/gu, "").toLowerCase();

/** The forms that a word may be the plural of. */
const singulars = (word: string) => [word, word.replace(/s$/, ""), word.replace(/es$/, "")];

const lookUp = (words: ReadonlyMap<string, Family>, word: string) =>
  singulars(word)
    .map((one) => words.get(one))
    .find(Boolean);

/** The family that a word is a name of: "wood" is timber, and "oak" is no name of a family. */
export const familyOfWord = (word: string): Family | undefined => lookUp(BY_NAME, folded(word));

/** What says a family, and which. */
export interface FamilySign {
  family: Family;
  /** As it is written in the text, in small letters. */
  word: string;
}

/** The family that a name or a folder says; none where it says none, or several of which no one is what the others describe. */
export function familyOfText(text: string): FamilySign | undefined {
  const words = folded(text.replaceAll(/(\p{Ll})(\p{Lu})/gu, "$1 $2")).match(/[a-z]+/g) ?? [];
  const isOf = (list: ReadonlySet<string>) =>
    words.some((word) => singulars(word).some((one) => list.has(one)));
  if (isOf(NEITHER)) return undefined;
  const isMade = isOf(MADE);
  const signs = words.flatMap((word, at) => {
    const family = familyIn(word) ?? (isMade ? lookUp(BESIDE, word) : undefined);
    return family ? [{ family, word, at }] : [];
  });
  if (signs.length === 0) return undefined;
  const families = new Set(signs.map(({ family }) => family));
  const last = signs.at(-1)!;
  if (families.size === 1) return { family: last.family, word: last.word };
  const others = signs.filter(({ family }) => family !== last.family);
  // "Tile" is written on all that can be repeated; what is laid as tiles is stone or metal.
  if (families.has("tile") && families.size === 2) {
    const other = signs.find(({ family }) => family !== "tile")!;
    if (!["stone", "metal", "brick"].includes(other.family))
      return { family: other.family, word: other.word };
  }
  // English and German put what a thing is last, with what it is like right before it: "stone tile", "brick paving".
  return others.every(({ at }) => at === last.at - 1) ? { family: last.family, word: last.word } : undefined;
}

function familyIn(word: string): Family | undefined {
  if (OTHERWISE.has(word)) return undefined;
  return (
    lookUp(BY_NAME, word) ??
    lookUp(BY_SIGN, word) ??
    ENDS.find(([end]) => singulars(word).some((one) => one.endsWith(end)))?.[1] ??
    BEGINS.find(([begin]) => word.startsWith(begin))?.[1]
  );
}

/** Families that suppliers sort their lines by which are not the library's own. */
const OFFERED: ReadonlyMap<string, Family> = new Map([
  ["paving", "ground"],
  ["roofing", "tile"],
]);

/** By what a family was said: a product sheet knows better than a name, and a name than a folder. */
export type FamilyFrom = "sheet" | "name" | "folder";

/**
 * The family to begin with.
 * @param known what a supplier's sheet calls it, the material's name, and the folders that it came in, from outside to inside
 */
export function proposedFamily(known: {
  sheet?: string;
  name: string;
  folder?: string;
}): { family: Family; from: FamilyFrom; word: string } | undefined {
  if (known.sheet) {
    const family = familyOfWord(known.sheet) ?? OFFERED.get(known.sheet);
    if (family) return { family, word: known.sheet, from: "sheet" };
  }
  const named = familyOfText(known.name);
  if (named) return { ...named, from: "name" };
  // The innermost folder that says something.
  for (const folder of (known.folder ?? "").split("/").reverse()) {
    const sign = familyOfText(folder);
    if (sign) return { ...sign, from: "folder" };
  }
  return undefined;
}
