import type { Named } from "#core/candidates/named";
import { readRole } from "#core/maps/readRole";

/** Names that have the same letter glued to them, until it stands for a map. */
const FEWEST_NAMES = 3;
const NORMAL_LETTER = "n";
/** Letters of a picture that has no name without one. */
const COLOR_LETTERS = ["c", "d"];
const ENDING = /\.[^./]*$/;

/**
 * `slate2` beside `slate2n`, `slate2s` and `slate2z`: a letter stands for a map without anything between, where the same letters stand
 * behind the names of other pictures too, and the one for normals is among them. Such names are read as if a `_` stood between.
 */
export function withoutGlue(folder: Named[]): Named[] {
  const bare = folder.map(({ image }) => bareName(image.file));
  const names = new Set(bare);
  const isKnown = (stem: string) =>
    names.has(stem) || COLOR_LETTERS.some((letter) => names.has(stem + letter));
  const stemsOf = new Map<string, Set<string>>();
  const glued = bare.map((name) => {
    const [stem, letter] = [name.slice(0, -1), name.slice(-1)];
    if (!/[a-z0-9][a-z]$/.test(name) || !isKnown(stem)) return undefined;
    stemsOf.set(letter, (stemsOf.get(letter) ?? new Set()).add(stem));
    return { stem, letter };
  });
  const withNormals = stemsOf.get(NORMAL_LETTER);
  if (!withNormals || withNormals.size < FEWEST_NAMES) return folder;
  const isRepeated = new Map(
    [...stemsOf].map(([letter, stems]) => [
      letter,
      [...stems].filter((stem) => withNormals.has(stem)).length >= FEWEST_NAMES,
    ]),
  );
  return folder.map((named, i) => {
    const at = glued[i];
    if (!at || !withNormals.has(at.stem)) return named;
    const isColor = COLOR_LETTERS.includes(at.letter) && !names.has(at.stem);
    return isColor || isRepeated.get(at.letter) ? apart(named) : named;
  });
}

function apart({ image }: Named): Named {
  const { file } = image;
  const cut = file.length - (ENDING.exec(file)?.[0].length ?? 0) - 1;
  return { image, reading: readRole(`${file.slice(0, cut)}_${file.slice(cut)}`) };
}

const bareName = (file: string) =>
  file
    .slice(file.lastIndexOf("/") + 1)
    .replace(ENDING, "")
    .toLowerCase();
