import type { Line, Product } from "#core/supply/catalogue";

/** Twelve hues around the circle, with a word for each, and greys. */
const HUES: [string, number][] = [
  ["poppy", 8],
  ["brick", 20],
  ["apricot", 32],
  ["straw", 46],
  ["moss", 68],
  ["fern", 105],
  ["lichen", 145],
  ["lagoon", 178],
  ["rain", 205],
  ["cobble", 222],
  ["thistle", 268],
  ["mallow", 325],
];
const TONES: [string, number][] = [
  ["whisper", 0.92],
  ["pale", 0.82],
  ["soft", 0.68],
  ["mid", 0.52],
  ["deep", 0.36],
];
const STRENGTHS: [string, number][] = [
  ["dusty", 0.12],
  ["plain", 0.28],
  ["full", 0.48],
  ["bright", 0.7],
];

/** `#rrggbb` of a hue in degrees, saturation and lightness 0..1 (the HSL model). */
function hexOf(hue: number, saturation: number, lightness: number): string {
  const spread = saturation * Math.min(lightness, 1 - lightness);
  const channel = (n: number) => {
    const k = (n + hue / 30) % 12;
    const value = lightness - spread * Math.max(-1, Math.min(k - 3, 9 - k, 1));
    return Math.round(value * 255)
      .toString(16)
      .padStart(2, "0");
  };
  return `#${channel(0)}${channel(8)}${channel(4)}`;
}

function range(prefix: string, sheen: number): Product[] {
  let number = 100;
  return HUES.flatMap(([hueName, hue]) =>
    TONES.flatMap(([tone, lightness]) =>
      STRENGTHS.map(([strength, saturation]): Product => {
        const colour = `${tone} ${hueName}${strength === "plain" ? "" : `, ${strength}`}`;
        return {
          code: `${prefix}-${++number}`,
          name: `Loom ${number} ${colour}`,
          colour,
          hex: hexOf(hue, saturation, lightness),
          joints: [],
          sheen,
        };
      }),
    ),
  );
}

const plain = (line: Pick<Line, "id" | "name" | "text" | "properties" | "products">): Line => ({
  supplier: "Loom Street Colours",
  family: "paint",
  page: `https://loom-street.example/${line.id}`,
  layout: "plain",
  licence: { name: "Free for every project", price: "free", credit: null },
  workSize: null,
  jointMm: null,
  coverSize: null,
  picture: null,
  pixels: [],
  roles: [],
  types: ["png"],
  ...line,
});

/** Lines of plain colours: no pictures, a colour and a sheen. */
export const PLAIN_LINES: Line[] = [
  plain({
    id: "loom-wall",
    name: "Loom wall colours",
    text: "Matt emulsion for walls and ceilings.",
    properties: {
      grade: "matt",
      use: ["wall inside"],
      frost: null,
      slip: null,
      fire: "A2",
      thicknessMm: null,
    },
    products: range("LW", 6),
  }),
  plain({
    id: "loom-joinery",
    name: "Loom joinery colours",
    text: "Satin for doors, frames and panelling.",
    properties: {
      grade: "satin",
      use: ["wall inside", "wall outside"],
      frost: null,
      slip: null,
      fire: "B",
      thicknessMm: null,
    },
    products: range("LJ", 38),
  }),
];
