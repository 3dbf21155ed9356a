import { GREY, looksLikeNormal } from "#core/judge/imageReading";
import type { IntakeImage } from "#core/candidates/candidate";
import { gathered } from "#core/candidates/gathered";
import type { NameReading } from "#core/maps/readRole";
import type { Named } from "#core/candidates/named";
import { withoutGlue } from "#core/candidates/withoutGlue";
import type { Role } from "#core/roles/roles";

/** Letters in a row that are an order (`a` to `e`), and no roles. */
const FEWEST_LETTERS = 3;
/** Files of a folder that begin alike, until that is a prefix. */
const FEWEST_PREFIXED = 3;
/** A role word that is surer than this is no prefix. */
const CERTAIN = 0.95;
/** A role that is less sure than this is one only where siblings agree. */
const WEAK = 0.7;

/**
 * What a name means among its siblings: a whole folder is read before a letter is a role, a first word a prefix, or a number a
 * list. All of them come from one folder.
 * @param known words that somebody has answered to be marks of maps, in lower case
 */
export function settleNames(folder: Named[], known: ReadonlySet<string> = new Set()): Named[] {
  return settleStems(withoutPrefix(withoutList(withoutGlue(folder))), known);
}

/** `01_color`, `02_normal`: numbers that only tell the files of one set apart. */
function withoutList(folder: Named[]): Named[] {
  const listed = folder.filter(({ reading }) => /^\d{1,2}$/.test(reading.stem));
  const different = <T>(values: T[]) => new Set(values).size === values.length;
  const isList =
    listed.length > 1 &&
    different(listed.map(({ reading }) => reading.stem)) &&
    different(listed.map(({ reading }) => reading.role ?? reading.doubt?.mark));
  if (!isList) return folder;
  return folder.map((named) =>
    listed.includes(named) ? { ...named, reading: { ...named.reading, stem: "" } } : named,
  );
}

/** `mtl_brick`, `mtl_slate`: a first word that all files of a folder have says nothing of each. */
function withoutPrefix(folder: Named[]): Named[] {
  const [first] = folder;
  const isPrefix =
    folder.length >= FEWEST_PREFIXED &&
    folder.every(
      ({ reading }) => reading.leading && reading.role === first.reading.role && reading.confidence < CERTAIN,
    );
  if (!isPrefix) return folder;
  return folder.map(({ image, reading }) => ({ image, reading: silent(reading) }));
}

/** Nothing but a name. */
function silent({ wholeStem, folder, wear }: NameReading): NameReading {
  return { stem: wholeStem, wholeStem, folder, wear, confidence: 0 };
}

function settleStems(folder: Named[], known: ReadonlySet<string>): Named[] {
  const byStem = gathered(folder, ({ reading }) => reading.stem);
  const letters = gathered(
    folder.filter(({ reading }) => / \p{L}$/u.test(reading.wholeStem)),
    ({ reading }) => reading.wholeStem.slice(0, -2),
  );
  const settled = folder.map(({ image, reading }): Named => {
    const own = byStem.get(reading.stem)!;
    const isName =
      reading.stem !== reading.wholeStem &&
      (byStem.has(reading.wholeStem) || (isWeaklyLed(reading) && byStem.has(allButLast(reading.wholeStem))));
    if ((reading.role || reading.doubt?.mark.length === 1) && isName)
      return { image, reading: silent(reading) };
    if (reading.letter !== undefined && isOrder(own, letters.get(reading.stem) ?? [], image, reading))
      return { image, reading: silent(reading) };
    return { image, reading };
  });
  return joinUnknown(joinVariants(withoutTwins(withoutLonely(joinOnlyOne(settled)))), known);
}

/** A word or a letter that may be a role, and has no siblings to prove it. */
function withoutLonely(folder: Named[]): Named[] {
  const byStem = gathered(folder, ({ reading }) => reading.stem);
  const marked = markedColors(folder);
  return folder.map(({ image, reading }) => {
    const isLonely =
      reading.role &&
      reading.confidence < WEAK &&
      byStem.get(reading.stem)!.length === 1 &&
      !marked.has(reading.stem);
    if (!isLonely) return { image, reading };
    return { image, reading: reading.letter === undefined ? silent(reading) : asked(reading) };
  });
}

/** `door1_d` beside `door1_kx`, `door2_d` beside `door2_kx`: stems that prove each other's letter by a mark that no role is known of. */
function markedColors(folder: Named[]): Set<string> {
  const colors = folder.filter(
    ({ reading }) => reading.letter !== undefined && reading.role === "base_color",
  );
  const colored = new Set(colors.map(({ reading }) => reading.stem));
  const unknown = folder.filter(
    ({ reading }) => !reading.role && !reading.packed && colored.has(allButLast(reading.stem)),
  );
  const byMark = gathered(unknown, ({ reading }) => reading.stem.split(" ").at(-1)!);
  return new Set(
    [...byMark.values()]
      .filter((named) => named.length > 1)
      .flatMap((named) => named.map(({ reading }) => allButLast(reading.stem))),
  );
}

/** `base02_z` beside `base02_n`: what looks like a role is how the name begins. */
const isWeaklyLed = ({ leading, confidence }: NameReading) => leading && confidence < WEAK;
const allButLast = (stem: string) => stem.split(" ").slice(0, -1).join(" ");

/** Whether the letter behind a stem belongs to the name: letters in a row, or a coloured picture where the letter says a grey map. */
function isOrder(siblings: Named[], lettered: Named[], image: IntakeImage, reading: NameReading): boolean {
  if (siblings.every((named) => lettered.includes(named))) {
    const codes = lettered
      .map((named) => named.reading.wholeStem.codePointAt(named.reading.wholeStem.length - 1)!)
      .sort((a, b) => a - b);
    const inRow = codes.every((code, i) => i === 0 || code === codes[i - 1] + 1);
    if (inRow && codes.length >= FEWEST_LETTERS) return true;
  }
  const pixels = image.reading;
  if (!pixels || reading.role === "base_color") return false;
  const asNormal = pixels.normal !== null && looksLikeNormal(pixels.normal);
  const isColored = pixels.spread >= GREY * 3 && !asNormal;
  return isColored && siblings.length > 1 && !COLORED.has(reading.role ?? "unknown");
}

/** Roles of coloured pictures that a letter may stand for; a doubtful letter is asked. */
const COLORED = new Set<Role | "unknown">(["base_color", "geometry_normal", "unknown"]);

/** A single letter on a single picture: it may be a role, or a part of the name. */
function asked(reading: NameReading): NameReading {
  const { role, letter, wholeStem } = reading;
  if (role === "base_color") return silent(reading);
  return {
    ...silent(reading),
    stem: wholeStem,
    doubt: { mark: letter!, likely: role ? [role, "base_color"] : ["base_color"] },
  };
}

/** `fabric_diffuse_albedo` beside `fabric_normal`: two words for one role, where nothing else is called as the first is. */
function withoutTwins(folder: Named[]): Named[] {
  const byStem = gathered(folder, ({ reading }) => reading.stem);
  return folder.map((named) => {
    const { stem, stemWithoutTwin } = named.reading;
    if (stemWithoutTwin === undefined || byStem.get(stem)!.length > 1) return named;
    return { ...named, reading: { ...named.reading, stem: stemWithoutTwin } };
  });
}

/** `felt_color_red` beside `felt_normal`: the set's own colours, in the one variant that came. */
function joinVariants(folder: Named[]): Named[] {
  const byStem = gathered(folder, ({ reading }) => reading.stem);
  const byBare = gathered(
    folder.filter(({ reading }) => reading.stemWithoutVariant !== undefined),
    ({ reading }) => reading.stemWithoutVariant!,
  );
  return folder.map((named) => {
    const bare = named.reading.stemWithoutVariant;
    if (bare === undefined || byStem.get(named.reading.stem)!.length > 1) return named;
    const others = byStem.get(bare) ?? [];
    const hasColor = others.some(({ reading }) => reading.role === "base_color");
    const joins = others.some(({ reading }) => reading.role) && !hasColor && byBare.get(bare)!.length === 1;
    return joins ? { ...named, reading: { ...named.reading, stem: bare } } : named;
  });
}

/** `panel2a` and its `panel2a_g` beside `panel2_n` and `panel2_s`: the one picture that came of several that share the other maps. */
function joinOnlyOne(folder: Named[]): Named[] {
  const byStem = gathered(folder, ({ reading }) => reading.stem);
  const bareOf = ({ reading }: Named) =>
    /\d ?\p{Ll}$/u.test(reading.stem) ? reading.stem.replace(/ ?\p{Ll}$/u, "") : undefined;
  const lettered = gathered(
    folder.filter((named) => bareOf(named) !== undefined),
    (named) => bareOf(named)!,
  );
  return folder.map((named) => {
    const bare = bareOf(named);
    if (bare === undefined) return named;
    const [own, others] = [byStem.get(named.reading.stem)!, byStem.get(bare) ?? []];
    const says = new Set(others.map(({ reading }) => reading.role ?? reading.doubt?.mark));
    const joins =
      others.length > 0 &&
      !others.some(isPicture) &&
      own.filter(isPicture).length === 1 &&
      lettered.get(bare)!.every(({ reading }) => reading.stem === named.reading.stem) &&
      own.every(({ reading }) => isPicture({ reading }) || !says.has(reading.role ?? reading.doubt?.mark));
    return joins ? { ...named, reading: { ...named.reading, stem: bare } } : named;
  });
}

/** Whether a name says that its picture is the colour of a set, or says nothing. */
const isPicture = ({ reading: { role, doubt, packed } }: Pick<Named, "reading">) =>
  role ? role === "base_color" : !doubt && !packed;

/** Marks of maps that have no role here. */
const OTHER_MAPS = new Set(
  "curvature thickness id matid idmap detail cavity position mask lightmap specmap wpo flow edge edges worldnormal".split(
    " ",
  ),
);
/** A mark that no role is known of has so many letters at most, if nothing else is known of it. */
const LONGEST_MARK = 3;
const MOST_MARKS = 2;

/** An unknown mark on a known stem: the file joins the set, and somebody is asked what it is. */
function joinUnknown(folder: Named[], known: ReadonlySet<string>): Named[] {
  const byStem = gathered(folder, ({ reading }) => reading.stem);
  const marks = new Map<string, number>();
  const splitAt = ({ reading }: Named) => {
    return { stem: allButLast(reading.stem), mark: reading.stem.split(" ").at(-1)! };
  };
  const isLoose = (named: Named) => !named.reading.role && !named.reading.packed && !named.reading.doubt;
  const isSet = (stem: string) =>
    (byStem.get(stem) ?? []).some(({ reading }) => reading.role ?? reading.packed ?? reading.doubt);
  const loose = folder.filter(
    (named) => isLoose(named) && byStem.get(named.reading.stem)!.length === 1 && isSet(splitAt(named).stem),
  );
  const onStem = gathered(loose, (named) => splitAt(named).stem);
  for (const named of loose) {
    const { mark } = splitAt(named);
    marks.set(mark, (marks.get(mark) ?? 0) + 1);
  }
  return folder.map((named) => {
    if (!loose.includes(named)) return named;
    const { stem, mark } = splitAt(named);
    const lettered = byStem.get(stem)!.filter(({ reading }) => reading.letter !== undefined).length;
    const isRepeated =
      marks.get(mark)! >= (mark.length === 1 ? FEWEST_LETTERS : 2) || (mark.length === 1 && lettered > 1);
    // Several on one stem that are found nowhere else are the colours that it comes in.
    const isShort =
      mark.length > 1 &&
      mark.length <= LONGEST_MARK &&
      !/\d/.test(mark) &&
      onStem.get(stem)!.length <= MOST_MARKS;
    const isMark =
      /^\p{L}+\d?$/u.test(mark) && (isShort || isRepeated || OTHER_MAPS.has(mark) || known.has(mark));
    if (!isMark) return named;
    return { ...named, reading: { ...named.reading, stem, doubt: { mark, likely: [] } } };
  });
}
