import { surfaceReader, type DrawnMaterial, type SurfaceReader } from "#core/picture/surfaceReader";
import { linearTable, linearToSrgb } from "#core/raster/srgb";

/** Places each way at which both are read, and so far apart that no pattern is met at the same place of each repeat. */
const GRID = 56;
const GOLDEN = (Math.sqrt(5) - 1) / 2;

/** A value of a surface at all places. */
type Values = Float64Array;

type Size = DrawnMaterial["repeat"];

interface Readings {
  red: Values;
  green: Values;
  blue: Values;
  roughness: Values;
  metalness: Values;
  opacity: Values;
  openness: Values;
  /** Of the normal. */
  toRight: Values;
  toTop: Values;
  /** Millimetres. */
  height: Values;
}

const NAMES = [
  "red",
  "green",
  "blue",
  "roughness",
  "metalness",
  "opacity",
  "openness",
  "toRight",
  "toTop",
  "height",
] as const satisfies (keyof Readings)[];

function readingsOf(reader: SurfaceReader, repeat: Size, area: Size): Readings {
  const all = Object.fromEntries(
    NAMES.map((name) => [name, new Float64Array(GRID * GRID)]),
  ) as unknown as Readings;
  for (let i = 0; i < GRID * GRID; i++) {
    const [u, v] = [
      (((i + 0.5) / (GRID * GRID)) * area.width) / repeat.width,
      ((((i + 0.5) * GOLDEN) % 1) * area.height) / repeat.height,
    ];
    const { surface, normal, openness } = reader.at(u, v);
    [all.red[i], all.green[i], all.blue[i]] = surface.baseColor;
    all.roughness[i] = surface.roughness;
    all.metalness[i] = surface.metalness;
    all.opacity[i] = surface.opacity;
    all.openness[i] = openness;
    [all.toRight[i], all.toTop[i]] = normal;
    all.height[i] = reader.heightAt(u, v);
  }
  return all;
}

const rms = (a: Values, b: (i: number) => number): number => {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += (a[i] - b(i)) ** 2;
  return Math.sqrt(sum / a.length);
};

/** A mistake, and how far what was read is from what it would make of what should be. */
interface Suspicion {
  says: string;
  off: number;
}

/** What is nearer than this is the same. */
const SAME = 0.02;
/** A suspicion explains so much of what is off, or it is none. */
const EXPLAINS = 0.5;
/** What no suspicion explains is another map only where it is off by so much: images that are reduced are off by less. */
const ANOTHER = 0.1;

/** A simpler one is believed before a better one, unless that is so much better. */
const MUCH_BETTER = 2;

/** The best explanation of one value that is off; nothing where it is not. @param scale of the value, where that is not 0 to 1 @param suspicions the simplest first */
function suspected(off: number, another: string, suspicions: Suspicion[], scale = 1): string[] {
  if (off < SAME * scale) return [];
  const nearest = Math.min(...suspicions.map((one) => one.off));
  const best = suspicions.find((one) => one.off <= nearest * MUCH_BETTER)!;
  if (best.off < off * EXPLAINS) return [best.says];
  return off < ANOTHER * scale ? [] : [another];
}

/**
 * What is likely to be wrong with a delivery, the surest first, by reading material and delivery at the same real places and asking of each
 * value which mistake would turn one into the other. Nothing where both say the same.
 * @param delivered what a renderer sees of the delivery @param intended the size that its images are meant to have
 */
export function likelyCauses(material: DrawnMaterial, delivered: DrawnMaterial, intended: Size): string[] {
  const causes = sizeCauses(intended, delivered.repeat);
  const truth = readingsOf(surfaceReader(material), material.repeat, material.repeat);
  // Where its size is off, its images may be right: they are read as if it were not.
  const read = readingsOf(
    surfaceReader(delivered),
    causes.length > 0 ? intended : delivered.repeat,
    material.repeat,
  );
  const colors = colorCauses(truth, read);
  causes.push(
    ...colors,
    ...dataCauses("roughness", truth, read),
    ...dataCauses("metalness", truth, read),
    ...normalCauses(truth, read),
    ...heightCauses(truth, read),
    ...dataCauses("opacity", truth, read),
    // Where it is in the colour, a map of it is not missed.
    ...(colors.some((cause) => cause.startsWith(IN_THE_COLOR)) ? [] : occlusionCauses(truth, read)),
  );
  return causes;
}

function sizeCauses(was: Size, is: Size): string[] {
  const near = (a: number, b: number) => Math.abs(a / b - 1) < 0.005;
  if (near(is.width, was.width) && near(is.height, was.height)) return [];
  if (near(is.width, was.height) && near(is.height, was.width)) return ["Width and height are exchanged."];
  const factor = (is.width / was.width + is.height / was.height) / 2;
  const words = factor >= 1 ? `${number(factor)} times` : `a ${number(1 / factor)}th of`;
  return [`The size is ${words} what it should be.`];
}

const number = (value: number) => String(Number(value.toPrecision(3)));

const IN_THE_COLOR = "Ambient occlusion is multiplied into the colour";

function colorCauses(truth: Readings, read: Readings): string[] {
  const channels = ["red", "green", "blue"] as const;
  const off = (value: (name: (typeof channels)[number], i: number) => number) =>
    Math.hypot(...channels.map((name) => rms(read[name], (i) => value(name, i)))) / Math.sqrt(3);
  const { openness } = truth;
  const linear = linearTable(16);
  const decoded = (value: number) => linear[Math.round(Math.min(1, Math.max(0, value)) * 65535)];
  return suspected(
    off((name, i) => truth[name][i]),
    "The colours are not this material’s.",
    [
      {
        says: `${IN_THE_COLOR}.`,
        off: off((name, i) => truth[name][i] * openness[i]),
      },
      {
        says: `${IN_THE_COLOR} twice.`,
        off: off((name, i) => truth[name][i] * openness[i] ** 2),
      },
      {
        says: "Colours went through a gamma once too often.",
        off: off((name, i) => decoded(truth[name][i])),
      },
      {
        says: "Colours are read as linear numbers: they are encoded, and a gamma is missing.",
        off: off((name, i) => linearToSrgb(truth[name][i])),
      },
      { says: "The colour map is missing.", off: flatness(channels.map((name) => read[name])) },
    ],
  );
}

/** How far values are from being one value; what is missing is the same all over, and what should be there is not. */
function flatness(values: Values[]): number {
  return Math.max(
    ...values.map((one) => {
      const mean = one.reduce((sum, value) => sum + value, 0) / one.length;
      return rms(one, () => mean) * 1e3;
    }),
  );
}

const WORDS = { roughness: "roughness", metalness: "metalness", opacity: "opacity" } as const;

function dataCauses(name: keyof typeof WORDS, truth: Readings, read: Readings): string[] {
  const value = read[name];
  const should = truth[name];
  const linear = linearTable(16);
  const decoded = (v: number) => linear[Math.round(Math.min(1, Math.max(0, v)) * 65535)];
  const what = WORDS[name];
  const others = (Object.keys(WORDS) as (keyof typeof WORDS)[]).filter((other) => other !== name);
  return suspected(
    rms(value, (i) => should[i]),
    `The ${what} is not this material’s.`,
    [
      {
        says:
          name === "roughness"
            ? "Gloss is taken for roughness, or roughness for gloss."
            : `The ${what} is inverted.`,
        off: rms(value, (i) => 1 - should[i]),
      },
      {
        says: `The ${what} went through a gamma: it is data, and is to be read raw.`,
        off: rms(value, (i) => decoded(should[i])),
      },
      ...others.map((other) => ({
        says: `Channels are exchanged: the ${what} gets the ${WORDS[other]}.`,
        // One value all over is no other map, but none.
        off: flatness([truth[other]]) === 0 ? Infinity : rms(value, (i) => truth[other][i]),
      })),
      {
        says: `Channels are exchanged: the ${what} gets the ambient occlusion.`,
        off: flatness([truth.openness]) === 0 ? Infinity : rms(value, (i) => truth.openness[i]),
      },
      { says: `The ${what} map is missing.`, off: flatness([value]) },
    ],
  );
}

function normalCauses(truth: Readings, read: Readings): string[] {
  const off = (right: (i: number) => number, top: (i: number) => number) =>
    Math.hypot(rms(read.toRight, right), rms(read.toTop, top));
  const { toRight, toTop } = truth;
  return suspected(
    off(
      (i) => toRight[i],
      (i) => toTop[i],
    ),
    "The normals are not this material’s.",
    [
      {
        says: "Green of the normal map is the wrong way: joints stand out in place of in.",
        off: off(
          (i) => toRight[i],
          (i) => -toTop[i],
        ),
      },
      {
        says: "Red of the normal map is the wrong way.",
        off: off(
          (i) => -toRight[i],
          (i) => toTop[i],
        ),
      },
      {
        says: "The normal map is missing.",
        off: off(
          () => 0,
          () => 0,
        ),
      },
    ],
  );
}

function heightCauses(truth: Readings, read: Readings): string[] {
  const should = centred(truth.height);
  const is = centred(read.height);
  const deepest = should.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  /** How many times as deep, by least squares. */
  const times =
    should.reduce((sum, value, i) => sum + value * is[i], 0) /
    Math.max(
      1e-9,
      should.reduce((sum, value) => sum + value * value, 0),
    );
  return suspected(
    rms(read.height, (i) => truth.height[i]),
    "The height is not this material’s.",
    [
      {
        says: "There is no height.",
        off: deepest === 0 ? Infinity : rms(is, () => 0) * 1e3,
      },
      {
        says: "The height is inverted: what should stand out lies in.",
        off: rms(is, (i) => -should[i]),
      },
      { says: "The middle of the height is another one.", off: rms(is, (i) => should[i]) },
      {
        says: `The height is ${Number(times.toPrecision(2))} times as deep as it should be.`,
        off: times > 0 ? rms(is, (i) => should[i] * times) : Infinity,
      },
    ],
    Math.max(1, deepest),
  );
}

function centred(values: Values): Values {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return values.map((value) => value - mean);
}

function occlusionCauses(truth: Readings, read: Readings): string[] {
  const { openness } = truth;
  const isNone = read.openness.every((value) => value === 1);
  return suspected(
    rms(read.openness, (i) => openness[i]),
    "The ambient occlusion is not this material’s.",
    [
      { says: "There is no ambient occlusion map.", off: isNone ? 0 : Infinity },
      { says: "The ambient occlusion is inverted.", off: rms(read.openness, (i) => 1 - openness[i]) },
    ],
  );
}
