import { ciede2000 } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import { hexToLinear } from "#core/raster/srgb";

type Lab = [number, number, number];

/** Colours that each word is at home at, as #rrggbb. */
const AT_HOME = {
  white: ["#ffffff", "#f6f5f2", "#eeeae0", "#e9edef"],
  cream: ["#f3e8cc", "#f5edd6"],
  beige: ["#d9c7a8", "#e3d5b8", "#c8b18b", "#d2bfa3"],
  grey: [
    "#d2d2d0",
    "#b4b4b2",
    "#8e8e8c",
    "#6c6c6a",
    "#4c4c4b",
    "#bdb5aa",
    "#8f877e",
    "#6b645c",
    "#a9b1b8",
    "#7d868e",
    "#555d64",
  ],
  black: ["#000000", "#171717", "#241f1c", "#1c2025"],
  brown: [
    "#6b4226",
    "#8b5a2b",
    "#5a3a22",
    "#7a5a42",
    "#a0713f",
    "#3f2a1c",
    "#96694a",
    "#b98a5c",
    // Taupe, and wood that greyed.
    "#7a6a5e",
    "#6e5c50",
    "#8a7566",
    "#5c4e44",
  ],
  ochre: ["#c08a2e", "#b5832f", "#cf9d45"],
  yellow: ["#f2d21e", "#e8c547", "#d9b93a", "#ffe98a"],
  orange: ["#e67a22", "#d9662b", "#f29a4a"],
  red: ["#b02020", "#8e2a24", "#d03a30", "#a84a3a", "#7a2f28", "#b5533c"],
  pink: ["#e8a8b0", "#d88a94", "#f2c4c8"],
  purple: ["#6a3a7a", "#8d5fa0", "#4a2d5c", "#b79cc8"],
  blue: ["#2a5caa", "#4a7fc0", "#1f3a6a", "#8fb2d8", "#6f8fb0", "#2e4a66", "#30507a"],
  turquoise: ["#2f8f8a", "#4fb0a8", "#1f6466", "#8fcac4", "#2a7f86"],
  green: ["#3f7a3a", "#6a9a4a", "#2f5a34", "#8fae7a", "#5f6e3a", "#b5c9a0", "#4a5a3c", "#7d8a5a"],
} as const;

export type ColorWord = keyof typeof AT_HOME;
export const COLOR_WORDS = Object.keys(AT_HOME) as ColorWord[];

/** What may be said before a colour, or alone. */
export const COLOR_SHADES = ["pale", "dark", "warm", "cool", "bright", "muted"] as const;
export type ColorShade = (typeof COLOR_SHADES)[number];

/** Other words for the same. */
const SAME_COLOR: Record<string, ColorWord> = {
  gray: "grey",
  offwhite: "white",
  ivory: "cream",
  sand: "beige",
  tan: "beige",
  anthracite: "black",
  charcoal: "black",
  violet: "purple",
  lilac: "purple",
  teal: "turquoise",
  cyan: "turquoise",
  navy: "blue",
  olive: "green",
  rose: "pink",
  golden: "yellow",
  terracotta: "red",
};
const SAME_SHADE: Record<string, ColorShade> = {
  light: "pale",
  deep: "dark",
  cold: "cool",
  vivid: "bright",
  strong: "bright",
  dull: "muted",
};

/** The colour or the shade that a word means, however it is spelt. */
export function colorOfWord(word: string): ColorWord | undefined {
  const plain = word
    .toLowerCase()
    .replace(/ish$/, "")
    .replace(/^redd$/, "red");
  return (
    COLOR_WORDS.find((one) => one === plain) ??
    (Object.hasOwn(SAME_COLOR, plain) ? SAME_COLOR[plain] : undefined)
  );
}
export function shadeOfWord(word: string): ColorShade | undefined {
  const plain = word.toLowerCase();
  return (
    COLOR_SHADES.find((one) => one === plain) ??
    (Object.hasOwn(SAME_SHADE, plain) ? SAME_SHADE[plain] : undefined)
  );
}

const HOMES: { word: ColorWord; lab: Lab }[] = COLOR_WORDS.flatMap((word) =>
  AT_HOME[word].map((hex) => ({ word, lab: labOf(hexToLinear(hex)) })),
);

function labOf([r, g, b]: readonly number[]): Lab {
  return linearToLab(r, g, b);
}

/** What lies about as near to two words is called by both: terracotta is red, and brown. */
const AS_NEAR = 3.5;

/** The words that people have for a colour. */
export function wordsOfColor(lab: Lab): { words: ColorWord[]; shades: ColorShade[] } {
  const distances = new Map<ColorWord, number>();
  for (const { word, lab: home } of HOMES) {
    const distance = ciede2000(lab, home);
    if (distance < (distances.get(word) ?? Infinity)) distances.set(word, distance);
  }
  const nearest = Math.min(...distances.values());
  const words = COLOR_WORDS.filter((word) => distances.get(word)! <= nearest + AS_NEAR);
  const [light, a, b] = lab;
  const chroma = Math.hypot(a, b);
  const isGrey = chroma < 14;
  const shades: Record<ColorShade, boolean> = {
    pale: light >= 68,
    dark: light <= 40,
    warm: isGrey ? b > 2.5 : a + b > 8 && b > -chroma / 2,
    cool: isGrey ? b < -1.5 || a < -2.5 : b < 0 || a < -chroma / 2,
    bright: chroma >= 45,
    muted: chroma >= 10 && chroma < 24,
  };
  return { words, shades: COLOR_SHADES.filter((shade) => shades[shade]) };
}

/** So many colours of a picture are told apart at most. */
const MOST_COLORS = 5;
/** Nearer together than this, two are one. */
const ONE_COLOR = 9;
/** What covers less is not what a surface is called by. */
const LEAST_SHARE = 0.12;

export interface DominantColor {
  lab: Lab;
  /** Of the area, 0..1. */
  share: number;
}

/**
 * The colours that a surface is of, the largest first: each of its parts goes to the nearest of a few, by CIEDE2000, which move to the
 * mean of what came to them.
 * @param parts colours of parts of equal area, in linear light
 */
export function dominantColors(parts: readonly (readonly [number, number, number])[]): DominantColor[] {
  const labs = parts.map(labOf);
  // From the middle of the whole, then always what is farthest from all that are there.
  let middles: Lab[] = [meanOf(labs)];
  while (middles.length < MOST_COLORS) {
    let [far, farthest]: [number, Lab] = [ONE_COLOR, middles[0]];
    for (const lab of labs) {
      const distance = Math.min(...middles.map((middle) => ciede2000(lab, middle)));
      if (distance > far) [far, farthest] = [distance, lab];
    }
    if (far === ONE_COLOR) break;
    middles.push(farthest);
  }
  let groups: Lab[][] = [];
  for (let round = 0; round < 6; round++) {
    groups = middles.map(() => []);
    for (const lab of labs) {
      const distances = middles.map((middle) => ciede2000(lab, middle));
      groups[distances.indexOf(Math.min(...distances))].push(lab);
    }
    groups = groups.filter((group) => group.length > 0);
    middles = groups.map(meanOf);
  }
  const colors = groups.map((group, at) => ({ lab: middles[at], share: group.length / labs.length }));
  return merged(colors).sort((x, y) => y.share - x.share);
}

function meanOf(labs: readonly Lab[]): Lab {
  const sum = (axis: 0 | 1 | 2) => labs.reduce((total, lab) => total + lab[axis], 0) / labs.length;
  return [sum(0), sum(1), sum(2)];
}

function merged(colors: DominantColor[]): DominantColor[] {
  for (let i = 0; i < colors.length; i++)
    for (let j = i + 1; j < colors.length; j++) {
      const [one, other] = [colors[i], colors[j]];
      if (ciede2000(one.lab, other.lab) > ONE_COLOR) continue;
      const share = one.share + other.share;
      const lab = one.lab.map(
        (value, axis) => (value * one.share + other.lab[axis] * other.share) / share,
      ) as Lab;
      const others = colors.filter((_, at) => at !== i && at !== j);
      return merged([...others, { lab, share }]);
    }
  return colors;
}

/**
 * What a surface may be called by its colours, and how much of it each word is: `grey`, `pale`, `pale grey`. What all is warm or dark is so
 * in its words as well.
 */
export function colorTerms(colors: readonly DominantColor[]): Record<string, number> {
  const terms: Record<string, number> = {};
  const add = (term: string, share: number) =>
    (terms[term] = Math.round(1000 * ((terms[term] ?? 0) + share)) / 1000);
  for (const { lab, share } of colors) {
    const { words, shades } = wordsOfColor(lab);
    for (const shade of shades) add(shade, share);
    for (const word of words) {
      add(word, share);
      for (const shade of shades) add(`${shade} ${word}`, share);
    }
  }
  return Object.fromEntries(Object.entries(terms).filter(([, share]) => share >= LEAST_SHARE));
}

/** What is of no hue is sorted by its lightness; all else from warm to cool. */
const COLORLESS = 8;

/** The place of a surface in a row of colours: greys from light to dark, below 1; then hues from red over yellow to blue and violet, from 1 to 2. */
export function colorOrder([largest]: readonly DominantColor[]): number {
  const [light, a, b] = largest.lab;
  if (Math.hypot(a, b) < COLORLESS) return 1 - light / 101;
  const hue = (Math.atan2(b, a) / (2 * Math.PI) + 1.08) % 1;
  return 1 + hue;
}
