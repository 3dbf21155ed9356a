import { WEAR_FITS, type Finish, type FinishField } from "#core/finish/finish";

/** The clauses of a specification that the values are grouped in, in their order. */
export const VALUE_GROUPS = [
  "colour",
  "surface",
  "coat and cloth",
  "relief",
  "light through",
  "light",
  "wear",
] as const;
export type ValueGroup = (typeof VALUE_GROUPS)[number];

interface Common {
  /** As people read it. */
  name: string;
  group: ValueGroup;
  /** What it does, in one sentence. */
  says: string;
}

/** What a value of a finish is: enough to show it, to type it, and to say what becomes of it. */
export type ValueFacts = Common &
  (
    | {
        kind: "number";
        /** Behind the number: "mm", "stops"; "" where it has none. */
        unit: string;
        /** Of the slider; more can be typed. */
        slider: readonly [from: number, to: number, step: number];
        /** What changes nothing; undefined where a map or the absence of one says it. */
        neutral?: number;
      }
    | { kind: "range" }
    | { kind: "color"; neutral?: string }
    | { kind: "switch" }
    | {
        kind: "choice";
        choices: readonly string[];
        /** What holds where nobody chose. */
        otherwise: string;
      }
    | { kind: "text" }
  );

export const FINISH_VALUES: Record<FinishField, ValueFacts> = {
  color: {
    kind: "color",
    name: "colour",
    group: "colour",
    says: "The colour of a material without an image.",
  },
  tint: {
    kind: "color",
    neutral: "#ffffff",
    name: "tint",
    group: "colour",
    says: "Multiplies the colour in linear light; white changes no pixel.",
  },
  brightnessStops: {
    kind: "number",
    unit: "stops",
    slider: [-2, 2, 0.05],
    neutral: 0,
    name: "brightness",
    group: "colour",
    says: "Doubles the light with each stop, or halves it.",
  },
  gamma: {
    kind: "number",
    unit: "",
    slider: [0.5, 2, 0.01],
    neutral: 1,
    name: "gamma",
    group: "colour",
    says: "Lightens what lies between black and white, or darkens it; both ends stay.",
  },
  contrast: {
    kind: "number",
    unit: "×",
    slider: [0.5, 2, 0.01],
    neutral: 1,
    name: "contrast",
    group: "colour",
    says: "Spreads light and dark from mid-grey, or draws them together.",
  },
  saturation: {
    kind: "number",
    unit: "×",
    slider: [0, 2, 0.01],
    neutral: 1,
    name: "saturation",
    group: "colour",
    says: "0 is grey, more than 1 is more colourful; how light it is stays.",
  },
  warmth: {
    kind: "number",
    unit: "mired",
    slider: [-60, 60, 1],
    neutral: 0,
    name: "warmth",
    group: "colour",
    says: "As if daylight were warmer or colder; how light white is stays.",
  },
  roughness: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.01],
    neutral: 0.5,
    name: "roughness",
    group: "surface",
    says: "Where no map says it: 0 is a mirror, 1 chalk.",
  },
  grade: {
    kind: "text",
    name: "surface grade",
    group: "surface",
    says: "How the surface was worked, in a supplier's words. Choosing one sets what it means.",
  },
  roughnessScale: {
    kind: "number",
    unit: "×",
    slider: [0, 2, 0.01],
    neutral: 1,
    name: "roughness, scaled",
    group: "surface",
    says: "Smoother below 1, rougher above; the detail of the map stays.",
  },
  roughnessShift: {
    kind: "number",
    unit: "",
    slider: [-0.5, 0.5, 0.01],
    neutral: 0,
    name: "roughness, shifted",
    group: "surface",
    says: "Added to the roughness everywhere, after scaling.",
  },
  roughnessRange: {
    kind: "range",
    name: "roughness, limits",
    group: "surface",
    says: "Nothing gets smoother than the first number, or rougher than the second.",
  },
  metalness: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.01],
    neutral: 0,
    name: "metalness",
    group: "surface",
    says: "Where no map says it: 1 is bare metal, 0 anything else.",
  },
  ior: {
    kind: "number",
    unit: "",
    slider: [1, 2.5, 0.01],
    neutral: 1.5,
    name: "index of refraction",
    group: "surface",
    says: "How strongly it reflects where it is no metal: water 1.33, lacquer and glass 1.5.",
  },
  specularWeight: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.01],
    name: "reflection",
    group: "surface",
    says: "Weakens what it reflects where it is no metal; 0 is none.",
  },
  specularColor: {
    kind: "color",
    neutral: "#ffffff",
    name: "reflection colour",
    group: "surface",
    says: "Tints what it reflects; a metal only towards its edge.",
  },
  coatWeight: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.01],
    name: "coat",
    group: "coat and cloth",
    says: "A layer of lacquer or varnish over everything.",
  },
  coatRoughness: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.01],
    neutral: 0,
    name: "coat roughness",
    group: "coat and cloth",
    says: "0 is high gloss.",
  },
  coatIor: {
    kind: "number",
    unit: "",
    slider: [1, 2.5, 0.01],
    neutral: 1.5,
    name: "coat index of refraction",
    group: "coat and cloth",
    says: "How strongly the coat reflects.",
  },
  coatColor: {
    kind: "color",
    neutral: "#ffffff",
    name: "coat colour",
    group: "coat and cloth",
    says: "What the coat lets through to the surface and back.",
  },
  fuzzWeight: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.01],
    name: "fuzz",
    group: "coat and cloth",
    says: "Short fibres that catch light at the edge: cloth, felt, velvet.",
  },
  fuzzColor: {
    kind: "color",
    neutral: "#ffffff",
    name: "fuzz colour",
    group: "coat and cloth",
    says: "The colour of the fibres.",
  },
  subsurfaceWeight: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.01],
    name: "subsurface",
    group: "light through",
    says: "Light that gets in and is scattered inside, as in wax, marble or skin.",
  },
  subsurfaceColor: {
    kind: "color",
    neutral: "#ffffff",
    name: "subsurface colour",
    group: "light through",
    says: "The colour that it comes out with.",
  },
  translucencyWeight: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.01],
    name: "translucency",
    group: "light through",
    says: "Of what a thin sheet scatters, the share that comes out behind it.",
  },
  translucencyColor: {
    kind: "color",
    neutral: "#ffffff",
    name: "translucency colour",
    group: "light through",
    says: "The colour that it comes out with; tints a translucency map.",
  },
  transmissionWeight: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.01],
    name: "transmission",
    group: "light through",
    says: "Clear as glass: light goes straight through.",
  },
  transmissionColor: {
    kind: "color",
    neutral: "#ffffff",
    name: "transmission colour",
    group: "light through",
    says: "The colour of what is seen through it.",
  },
  transmissionDepthMm: {
    kind: "number",
    unit: "mm",
    slider: [1, 1000, 1],
    name: "transmission depth",
    group: "light through",
    says: "After so much of it light has that colour. Here a sheet is 10 mm thick, and a block as deep as it is; a thin sheet has no depth.",
  },
  thinWalled: {
    kind: "switch",
    name: "thin sheet",
    group: "light through",
    says: "Seen from both sides and without an inside: a leaf, a curtain, a pane.",
  },
  opacityMode: {
    kind: "choice",
    choices: ["cut-out", "blend"],
    otherwise: "as the map says",
    name: "opacity",
    group: "light through",
    says: "Cut out with a sharp edge, or blended; without a choice the opacity map says it.",
  },
  opacityThreshold: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.01],
    neutral: 0.5,
    name: "opacity threshold",
    group: "light through",
    says: "Of a cut-out: what covers less than this is not there.",
  },
  normalStrength: {
    kind: "number",
    unit: "×",
    slider: [0, 3, 0.05],
    neutral: 1,
    name: "normal strength",
    group: "relief",
    says: "Scales the slopes of the normal map: 0 is flat.",
  },
  lostRelief: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.05],
    neutral: 1,
    name: "lost relief as roughness",
    group: "relief",
    says: "Relief that is lost where images are reduced makes the surface rougher: 1 all of it.",
  },
  heightAmplitudeMm: {
    kind: "number",
    unit: "mm",
    slider: [0, 50, 0.1],
    name: "height amount",
    group: "relief",
    says: "From the lowest to the highest value of the height map.",
  },
  heightMiddle: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.01],
    neutral: 0.5,
    name: "height middle",
    group: "relief",
    says: "The value of the height map that lies in the surface.",
  },
  heightRange: {
    kind: "range",
    name: "height limits",
    group: "relief",
    says: "What is lower or higher is cut off there; millimetres stay what they are.",
  },
  occlusionStrength: {
    kind: "number",
    unit: "",
    slider: [0, 1, 0.05],
    neutral: 1,
    name: "occlusion strength",
    group: "relief",
    says: "How much the occlusion map darkens where it is multiplied into the colour.",
  },
  occlusionGamma: {
    kind: "number",
    unit: "",
    slider: [0.2, 2, 0.05],
    neutral: 1,
    name: "occlusion curve",
    group: "relief",
    says: "Below 1 softens the occlusion, above 1 deepens it.",
  },
  emissionNits: {
    kind: "number",
    unit: "cd/m²",
    slider: [0, 2000, 10],
    name: "emission",
    group: "light",
    says: "Luminance of what glows at its brightest.",
  },
  emissionColor: {
    kind: "color",
    neutral: "#ffffff",
    name: "emission colour",
    group: "light",
    says: "The colour that it glows with; tints an emission map.",
  },
  wearFit: {
    kind: "choice",
    choices: WEAR_FITS,
    otherwise: "balance",
    name: "fit where baked",
    group: "wear",
    says: "For renderers that cannot lay wear on: wear-size keeps its size, pixels keeps the images as large as they are, balance gives up a little of both.",
  },
};

export const FINISH_FIELDS = Object.keys(FINISH_VALUES) as FinishField[];

/** Whether a value is other than what changes nothing. */
export function isSet(finish: Finish, field: FinishField): boolean {
  const value = finish[field];
  if (value === undefined) return false;
  const facts = FINISH_VALUES[field];
  if (facts.kind === "range") return (value as [number, number])[0] > 0 || (value as [number, number])[1] < 1;
  if (facts.kind === "color") return String(value).toLowerCase() !== facts.neutral;
  if (facts.kind === "number") return value !== facts.neutral;
  if (facts.kind === "choice") return value !== facts.otherwise;
  return facts.kind === "text" || value === true;
}

/** A value with its unit, as it stands in a sentence: "+0.1 stops", "× 0.8", "0.2 to 0.9". */
export function valueWords(field: FinishField, value: Finish[FinishField]): string {
  const facts = FINISH_VALUES[field];
  if (Array.isArray(value)) return `${value[0]} to ${value[1]}`;
  if (typeof value === "boolean") return value ? "yes" : "no";
  if (facts.kind !== "number" || typeof value !== "number") return String(value);
  if (facts.unit === "×") return `× ${value}`;
  const sign = facts.unit === "stops" || facts.unit === "mired" ? (value > 0 ? "+" : "") : "";
  return `${sign}${value}${facts.unit === "" ? "" : ` ${facts.unit}`}`;
}
