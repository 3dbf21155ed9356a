import { percent } from "#core/findings/figures";
import { kindOf } from "#core/findings/kind";
import { DEFAULT_CAMERA, PURPOSE_DISTANCE_M, type Purpose } from "#core/judge/holdsUp";
import { DIRECTION_WORDS, SEAM_WRONG } from "#core/judge/seams";
import type { Direction } from "#core/raster/directions";
import { type NormalDirection, ROLE_NAMES, type Role } from "#core/roles/roles";

const green = (direction: NormalDirection) => (direction === "+Y" ? "+Y (green up)" : "−Y (green down)");

/** What speaks for a normal map's direction; `agrees` with the direction that is said, and how sure. */
export interface DirectionReasons {
  slopes?: { agrees: boolean; sure: number };
  height?: { agrees: boolean; sure: number; isFourthChannel: boolean };
}

function reasonWords({ slopes, height }: DirectionReasons): string {
  const reasons = [
    slopes &&
      `the slopes fit together ${slopes.agrees ? "that way" : "the other way"} (${percent(slopes.sure)} sure)`,
    height &&
      `they ${height.agrees ? "go with" : "go against"} ${height.isFourthChannel ? "its fourth channel" : "the height map"} (${percent(height.sure)})`,
  ].filter(Boolean);
  return reasons.length > 0 ? `: ${reasons.join("; ")}` : "";
}

function answeredWords(answer: Role | "leave-out" | "apart" | NormalDirection): string {
  if (answer === "+Y" || answer === "-Y") return green(answer);
  if (answer === "leave-out") return "left out";
  return answer === "apart" ? "a different map in each channel" : `taken for ${ROLE_NAMES[answer]}`;
}

/** With so few pixels that it holds up only from this many times the distance that is asked for, it is worth a look. */
const FAR_TOO_FEW = 2;

/** What is said of the maps of a set together. */
export const ABOUT_SETS = {
  "wear-layer": kindOf<object>({
    level: "note",
    sentence: () => "A wear layer: it is kept as one, and not as a material of its own.",
  }),
  "no-base-color": kindOf<object>({
    level: "look",
    answer: "base-color",
    sentence: () => "No file is a base color map.",
  }),
  "single-picture": kindOf<object>({
    level: "note",
    answer: "complete-set",
    sentence: () => "One picture only: no roughness and no relief came with it.",
  }),
  incomplete: kindOf<{ lacks: readonly ("roughness" | "relief")[] }>({
    level: "note",
    answer: "complete-set",
    sentence: ({ lacks }) => `The set has no ${lacks.join(" and no ")}.`,
  }),
  "sizes-differ": kindOf<{ sizes: readonly string[] }>({
    level: "look",
    sentence: ({ sizes }) => `The maps differ in size: ${sizes.join(", ")} px.`,
  }),
  "proportions-differ": kindOf<object>({
    level: "wrong",
    sentence: () => "The maps differ in their proportions: they cannot show the same piece of a surface.",
  }),
  "direction-disagrees": kindOf<{
    named: NormalDirection;
    seen: NormalDirection;
    reasons: DirectionReasons;
  }>({
    level: "wrong",
    answer: "chosen-direction",
    sentence: ({ named, seen, reasons }, name) =>
      `${name} is called ${green(named)} by its name, but its pixels are ${green(seen)}${reasonWords(reasons)}. Joints will stand out instead of in: choose which to believe.`,
  }),
  "direction-from-pixels": kindOf<{ seen: NormalDirection; reasons: DirectionReasons }>({
    level: "note",
    sentence: ({ seen, reasons }, name) => `${name} is ${green(seen)} by its pixels${reasonWords(reasons)}.`,
  }),
  "green-is-level": kindOf<object>({
    level: "note",
    sentence: (_, name) =>
      `${name} rises and falls from left to right only: which way green points makes no difference.`,
  }),
  "normal-direction-assumed": kindOf<{ reasons: DirectionReasons }>({
    level: "look",
    answer: "direction",
    sentence: ({ reasons }, name) =>
      `${name} does not say whether green points up or down, and its pixels do not tell${reasonWords(reasons)}; +Y (up) is assumed.`,
  }),
  "height-does-not-fit": kindOf<{ normal: string }>({
    level: "look",
    sentence: ({ normal }, name) =>
      `${name} does not go with ${normal}: their slopes have nothing to do with each other.`,
  }),
  "height-inverted": kindOf<{ normal: string }>({
    level: "look",
    sentence: ({ normal }, name) =>
      `${name} is dark where ${normal} says that it is high: one of the two is upside down.`,
  }),
  "answered-before": kindOf<{
    answer: Role | "leave-out" | "apart" | NormalDirection;
    mark: string;
    by: string;
  }>({
    level: "note",
    answer: "acceptance",
    sentence: ({ answer, mark, by }, name) =>
      `${name} is ${answeredWords(answer)}, as ${by} has answered for files that end in “${mark}”.`,
  }),
  "orientation-differs": kindOf<{ turns: number; mirrored: boolean }>({
    level: "wrong",
    sentence: ({ turns, mirrored }, name) =>
      `${name} lies ${[mirrored && "mirrored", turns !== 0 && `turned by ${turns * 90}°`].filter(Boolean).join(" and ")} against the base color.`,
  }),
  "crop-differs": kindOf<{ acrossPx: number; downPx: number }>({
    level: "wrong",
    sentence: ({ acrossPx, downPx }, name) =>
      `${name} is shifted against the base color by ${acrossPx} px across and ${downPx} px down.`,
  }),
  seam: kindOf<{ direction: Direction; broken: number; role: Role; worstPx: number }>({
    level: ({ broken }) => (broken >= SEAM_WRONG ? "wrong" : "look"),
    answer: "mend",
    sentence: ({ direction, broken, role, worstPx }) =>
      `${broken >= SEAM_WRONG ? "It does not continue" : "It may not continue"} from ${DIRECTION_WORDS[direction]} (${percent(broken)} sure, in its ${ROLE_NAMES[role]}), worst ${worstPx} px from the ${direction === "across" ? "top" : "left"}.`,
  }),
  repetition: kindOf<{ lightness: number; x: number; y: number }>({
    level: "look",
    sentence: ({ lightness, x, y }) =>
      `Tiled over a wall it gives itself away: a ${lightness > 0 ? "light" : "dark"} place at ${percent(x)} from the left and ${percent(y)} from the top stands out by ${Math.abs(lightness).toFixed(1)} L*.`,
  }),
  "few-pixels": kindOf<FewPixels>({
    level: ({ holdsUpFromM, purpose }) =>
      holdsUpFromM === null || holdsUpFromM > FAR_TOO_FEW * PURPOSE_DISTANCE_M[purpose] ? "look" : "note",
    answer: "size",
    sentence: ({ widthPx, heightPx, purpose, densityPxPerM, holdsUpFromM }) =>
      holdsUpFromM === null || densityPxPerM === null
        ? `${widthPx} × ${heightPx} px is little for ${purpose === "backdrop" ? "a backdrop" : `looking from ${purpose === "near" ? "near" : "far"}`}; how little shows once its size is known.`
        : `With ${Math.round(densityPxPerM)} px/m it holds up from ${holdsUpFromM.toFixed(1)} m on, in a picture of ${DEFAULT_CAMERA.widthPx} px and ${DEFAULT_CAMERA.angleDegrees}°; for the purpose “${purpose}” it should from ${PURPOSE_DISTANCE_M[purpose]} m.`,
  }),
};

/** Density and distance are null in what was noticed before a size was known, which earlier versions did. */
interface FewPixels {
  widthPx: number;
  heightPx: number;
  purpose: Purpose;
  densityPxPerM: number | null;
  holdsUpFromM: number | null;
}
