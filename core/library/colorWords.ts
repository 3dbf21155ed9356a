import { ciede2000, type Lab } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import { hexToLinear } from "#core/raster/srgb";

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
  pink: ["#e8a8b0", "#d88a94", "#f2c4c8", "#f0509c", "#e0208c"],
  purple: ["#6a3a7a", "#8d5fa0", "#4a2d5c", "#b79cc8", "#a83296"],
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
  AT_HOME[word].map((hex) => ({ word, lab: linearToLab(...hexToLinear(hex)) })),
);

/** What lies about as near to two words is called by both: terracotta is red, and brown. */
const AS_NEAR = 3.5;

/** How well a word says a colour that is as near to another one as it can be and still have both names. */
const LEAST_NEARNESS = 0.4;

/** The words that people have for a colour, the best first, and how well each says it: 1 for that one. */
export function wordsOfColor(lab: Lab): {
  words: { word: ColorWord; nearness: number }[];
  shades: ColorShade[];
} {
  const distances = new Map<ColorWord, number>();
  for (const { word, lab: home } of HOMES) {
    const distance = ciede2000(lab, home);
    if (distance < (distances.get(word) ?? Infinity)) distances.set(word, distance);
  }
  const nearest = Math.min(...distances.values());
  const words = COLOR_WORDS.map((word) => ({ word, farther: (distances.get(word)! - nearest) / AS_NEAR }))
    .filter(({ farther }) => farther <= 1)
    .sort((one, other) => one.farther - other.farther)
    .map(({ word, farther }) => ({ word, nearness: 1 - (1 - LEAST_NEARNESS) * farther }));
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
