import { PACKED_CHANNELS, PACKED_CODES, packedId } from "#core/card/layout";
import { meanOf, type SampledCard, type Samples } from "#core/card/sampleCard";
import { luminance } from "#core/shade/rgb";

/** Light of a patch, as the grey that looks the same. */
export const lightOf = (card: SampledCard, id: string): number => luminance(meanOf(card.read(id)));

const STEPS = 5;

/** Light of each part of a patch, so that noise is averaged and what lies in it is not. */
function blocks(samples: Samples): [number, number, number][] {
  const side = Math.sqrt(samples.length);
  const per = side / STEPS;
  return Array.from({ length: STEPS ** 2 }, (_, block) => {
    const [column, row] = [block % STEPS, Math.floor(block / STEPS)];
    return meanOf(
      samples.filter((_, at) => {
        const [x, y] = [at % side, Math.floor(at / side)];
        return Math.floor(x / per) === column && Math.floor(y / per) === row;
      }),
    );
  });
}

/** Differences of what is darker than this are noise as likely as not. */
const DARK = 0.08;

/** How far two patches look from each other, in the colour in which they do most: 0 for the same, against how light they are. */
export function apart(card: SampledCard, a: string, b: string): number {
  const [one, other] = [blocks(card.read(a)), blocks(card.read(b))];
  return Math.max(
    ...([0, 1, 2] as const).map((channel) =>
      relativeDistance(
        one.map((light) => light[channel]),
        other.map((light) => light[channel]),
      ),
    ),
  );
}

/** Root of the mean square of how far lights are from each other, against how light they are. */
function relativeDistance(one: readonly number[], other: readonly number[]): number {
  const squares = one.reduce((sum, light, at) => sum + (light - other[at]) ** 2, 0);
  const mean = [...one, ...other].reduce((sum, light) => sum + light, 0) / (2 * one.length);
  return Math.sqrt(squares / one.length) / Math.max(DARK, mean);
}

/**
 * The same for bumps: how much there is of each light, wherever it lies, since the eye sees each bump a little more from its own side.
 * What is brightest is left out: of a small highlight it is luck how much a pixel meets.
 */
function apartInLights(card: SampledCard, a: string, b: string): number {
  const quantiles = (id: string) => {
    const lights = smoothed(card.read(id, MIDDLE).map(luminance)).sort((x, y) => x - y);
    return Array.from({ length: 19 }, (_, at) => lights[Math.floor(((at + 1) / 20) * (lights.length - 1))]);
  };
  return relativeDistance(quantiles(a), quantiles(b));
}

const MIDDLE = { left: 0.1, right: 0.9, top: 0.1, bottom: 0.9 };
/** Each with its neighbours to the right and below, so that no grain of noise is taken for a highlight. */
function smoothed(lights: number[]): number[] {
  const side = Math.sqrt(lights.length);
  return lights.flatMap((light, at) =>
    (at + 1) % side === 0 || at >= lights.length - side
      ? []
      : [(light + lights[at + 1] + lights[at + side] + lights[at + side + 1]) / 4],
  );
}

const brightest = (values: readonly number[]) => {
  const sorted = [...values].sort((a, b) => b - a);
  return (sorted[0] + sorted[1] + sorted[2]) / 3;
};
const median = (values: readonly number[]) =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];

/** The highlight of a bump. */
export interface Highlight {
  /** Above what is around it. */
  peak: number;
  /** The part of the bump that is at least half as bright as its peak. */
  width: number;
}

export function highlightOf(card: SampledCard, id: string): Highlight {
  const lights = smoothed(card.read(id, MIDDLE).map(luminance));
  const rest = median(lights);
  const peak = Math.max(0.001, brightest(lights) - rest);
  return { peak, width: lights.filter((light) => light - rest > peak / 2).length / lights.length };
}

/** What a channel of the packed image does, from little to much of it. */
export interface PackedEffect {
  /** How far the bumps look from each other. */
  apart: number;
  /** Of the light of a grey bump's highlight against that of a black one, as a logarithm: metal alone changes it. */
  tinted: number;
  /** Of the width of a highlight, as a logarithm: how rough it is. */
  wider: number;
  /** Of what a grey bump reflects on all sides, as a logarithm: occlusion lets more of it be. */
  lighter: number;
  /** The same of a black one: black metal mirrors less than black paint. */
  blackLighter: number;
}

export function packedEffects(card: SampledCard): PackedEffect[] {
  const lightAround = (id: string) => Math.log(Math.max(0.002, median(card.read(id, MIDDLE).map(luminance))));
  return PACKED_CHANNELS.map((name) => {
    const [little, much] = PACKED_CODES.map((code) => {
      const [black, grey] = (["black", "grey"] as const).map((color) => packedId(name, code, color));
      const [onBlack, onGrey] = [highlightOf(card, black), highlightOf(card, grey)];
      return {
        grey,
        tinted: Math.log(onGrey.peak / onBlack.peak),
        wider: Math.log(onGrey.width + 0.003),
        lighter: lightAround(grey),
        blackLighter: lightAround(black),
      };
    });
    return {
      apart: apartInLights(card, little.grey, much.grey),
      tinted: much.tinted - little.tinted,
      wider: much.wider - little.wider,
      lighter: much.lighter - little.lighter,
      blackLighter: much.blackLighter - little.blackLighter,
    };
  });
}
