import type { Likeness, Part } from "#core/judge/likeness";

/** So much of a picture is all of it but for its edges, which a mend joins anew. */
const NEARLY_ALL = 0.65;
/** By so much more of one picture is shared than of the other, until it is a part of it, and not the other way round. */
const CLEARLY_MORE = 1.1;

/**
 * What is said of a picture that is like one of the library.
 * @param name of the one in the library
 * @param isFirst whether the likeness says how that one follows from the picture, or how the picture follows from it
 */
export function likenessWords(like: Likeness, name: string, isFirst: boolean): string {
  const much = `${Math.round(like.alike * 100)} %`;
  if (like.parts) {
    const { first, second } = like.parts;
    const [own, other] = (isFirst ? [first, second] : [second, first]).map(areaOf);
    if (own > NEARLY_ALL && own > CLEARLY_MORE * other)
      return `It shows a part of “${name}” of the library (${much} alike): cropped from it, or mended.`;
    if (other > NEARLY_ALL && other > CLEARLY_MORE * own)
      return `“${name}” of the library shows a part of it (${much} alike): cropped from it, or mended.`;
    return `A part of it is also a part of “${name}” of the library (${much} alike).`;
  }
  // A mirrored picture is turned back by the same turn; another one by what is left of a whole turn.
  const turns = isFirst && !like.mirrored ? (4 - like.turns) % 4 : like.turns;
  const how = [
    like.mirrored && "mirrored",
    turns > 0 && `turned by ${turns * 90}°`,
    Math.max(Math.abs(like.shiftX), Math.abs(like.shiftY)) > 0.012 && "shifted",
    Math.max(...like.tint.map(Math.abs)) > 0.02 && "tinted",
  ].filter(Boolean);
  return `It is much like “${name}” of the library (${[much, ...how].join(", ")}): the same picture, or a variant of it.`;
}

const areaOf = ({ width, height }: Part) => width * height;
