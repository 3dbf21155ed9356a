import { dielectricFresnel, iorOfF0 } from "#core/shade/fresnel";
import { alphaOf, litAndSeen, seenFrom, visibleNormal } from "#core/shade/ggx";
import { dot, type Vector } from "#core/shade/vector";

/**
 * How much of the light from all around a rough surface reflects towards one direction, by tables that are made when they are first
 * wanted. What light bounces between the microfacets is not in the single-scattering model, and is given back by its share
 * (Kulla and Conty 2017): a mirror that is rough stays white.
 */
const NODES = 24;
const SAMPLES = 16;

/** Reflectances at normal incidence for which there are tables, by their square root. */
const LEVELS = 32;

interface Table {
  /** By roughness, then by the root of the cosine. */
  directional: Float64Array;
  /** By roughness: over all directions, weighted by their cosine. */
  average: Float64Array;
}

/** @param fresnel of a microfacet, by the cosine at it */
function tableOf(fresnel: (cosine: number) => number): Table {
  const directional = new Float64Array(NODES * NODES);
  const average = new Float64Array(NODES);
  for (let row = 0; row < NODES; row++) {
    const alpha = alphaOf(row / (NODES - 1));
    for (let column = 0; column < NODES; column++)
      // A smooth one hides nothing of itself, not even at grazing angles.
      directional[row * NODES + column] =
        row === 0 ? fresnel(rootOf(column) ** 2) : integrated(rootOf(column) ** 2, alpha, fresnel);
    // ∫ 2μ E dμ with μ = t²: the trapezoids are closest where the table is closest.
    for (let column = 0; column < NODES - 1; column++) {
      const [t0, t1] = [rootOf(column), rootOf(column + 1)];
      const [e0, e1] = [directional[row * NODES + column], directional[row * NODES + column + 1]];
      average[row] += (t1 ** 4 - t0 ** 4) * ((e0 + e1) / 2);
    }
  }
  return { directional, average };
}

const rootOf = (column: number) => Math.max(column / (NODES - 1), 1e-3);

/** By the share of each visible microfacet whose reflection is not blocked again. */
function integrated(cosine: number, alpha: number, fresnel: (cosine: number) => number): number {
  const out: Vector = [Math.sqrt(1 - cosine * cosine), 0, cosine];
  const seen = seenFrom(cosine, alpha);
  let sum = 0;
  for (let i = 0; i < SAMPLES; i++) {
    // The last few of the microfacets decide: those that lean most, whose reflections are blocked.
    const rest = 1 - (i + 0.5) / SAMPLES;
    const chance = 3 * rest * rest;
    // One half of the turn mirrors the other.
    for (let j = 0; j < SAMPLES / 2; j++) {
      const normal = visibleNormal(out, alpha, [1 - rest ** 3, (j + 0.5) / SAMPLES - 0.25]);
      const half = dot(out, normal);
      const cosineIn = 2 * half * normal[2] - cosine;
      if (half > 0 && cosineIn > 0)
        sum += (chance * fresnel(Math.min(1, half)) * litAndSeen(cosineIn, cosine, alpha)) / seen;
    }
  }
  return sum / (SAMPLES * (SAMPLES / 2));
}

function read(table: Table, cosine: number, roughness: number): number {
  const x = Math.sqrt(cosine) * (NODES - 1);
  const y = roughness * (NODES - 1);
  const [column, row] = [Math.min(NODES - 2, Math.floor(x)), Math.min(NODES - 2, Math.floor(y))];
  const at = (r: number) => {
    const left = table.directional[r * NODES + column];
    return left + (table.directional[r * NODES + column + 1] - left) * (x - column);
  };
  return at(row) + (at(row + 1) - at(row)) * (y - row);
}

function readAverage(table: Table, roughness: number): number {
  const y = roughness * (NODES - 1);
  const row = Math.min(NODES - 2, Math.floor(y));
  return table.average[row] + (table.average[row + 1] - table.average[row]) * (y - row);
}

let white: Table | undefined;
const levels: (Table | undefined)[] = [];
const levelTable = (level: number): Table =>
  (levels[level] ??= tableOf((cosine) => dielectricFresnel(cosine, iorOfF0((level / LEVELS) ** 2))));

/** Between which two tables a dielectric of a reflectance at normal incidence lies. */
export const levelsOf = (f0: number): [low: number, high: number] => {
  const low = Math.min(LEVELS - 1, Math.floor(Math.sqrt(f0) * LEVELS));
  return [low, low + 1];
};

/**
 * The tables for whoever reads them elsewhere: rows by roughness, each by the root of the cosine, both from 0 to 1 in 24 steps, and then
 * the average.
 */
export const dielectricRows = (level: number): Float32Array => rowsOf(levelTable(level));
export const mirrorRows = (): Float32Array => rowsOf((white ??= tableOf(() => 1)));

function rowsOf({ directional, average }: Table): Float32Array {
  const rows = new Float32Array(NODES * (NODES + 1));
  for (let row = 0; row < NODES; row++) {
    rows.set(directional.subarray(row * NODES, (row + 1) * NODES), row * (NODES + 1));
    rows[row * (NODES + 1) + NODES] = average[row];
  }
  return rows;
}

/** Of a mirror: single scattering alone, so below 1 where it is rough. @param cosine to the normal */
export const mirrorAlbedo = (cosine: number, roughness: number): number =>
  read((white ??= tableOf(() => 1)), cosine, roughness);

/** The same over all directions. */
export const mirrorAlbedoAverage = (roughness: number): number =>
  readAverage((white ??= tableOf(() => 1)), roughness);

/** What light that is reflected more than once brings, as a factor on (1 − E)(1 − E) / π(1 − Ē). @param fresnel over all directions */
export function manyTimes(fresnel: number, roughness: number): number {
  const once = mirrorAlbedoAverage(roughness);
  return (fresnel * fresnel * once) / (1 - fresnel * (1 - once));
}

/** A dielectric of a reflectance at normal incidence: what its surface reflects, and what that needs. */
export interface DielectricAlbedo {
  /** Towards a direction, all scattering included. @param cosine to the normal */
  towards(cosine: number): number;
  /** The same over all directions. */
  average: number;
  /** See `manyTimes`. */
  many: number;
}

/** @param f0 at normal incidence, from 0 to 1 */
export function dielectricAlbedo(f0: number, roughness: number): DielectricAlbedo {
  const x = Math.sqrt(f0) * LEVELS;
  const level = Math.min(LEVELS - 1, Math.floor(x));
  const [low, high] = [levelTable(level), levelTable(level + 1)];
  const between = (a: number, b: number) => a + (b - a) * (x - level);
  // The average Fresnel is the albedo of the smooth surface.
  const fresnel = between(readAverage(low, 0), readAverage(high, 0));
  const many = manyTimes(fresnel, roughness);
  const once = between(readAverage(low, roughness), readAverage(high, roughness));
  return {
    towards: (cosine) =>
      between(read(low, cosine, roughness), read(high, cosine, roughness)) +
      many * (1 - mirrorAlbedo(cosine, roughness)),
    average: once + many * (1 - mirrorAlbedoAverage(roughness)),
    many,
  };
}
