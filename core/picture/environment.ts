import { ggxDistribution, alphaOf } from "#core/shade/ggx";
import type { Condition } from "#core/picture/condition";
import { luminance, mixed, plus, scaled, type Rgb } from "#core/shade/rgb";
import { dot, unit, type Vector } from "#core/shade/vector";

/** A panorama of light, in the world: x to the right, y up, z to the eye. Only ratios count; pictures are exposed for what falls on the surface. */
type Radiance = (direction: Vector) => Rgb;

/** A room of pale walls under a cloudy sky: the CIE's overcast sky (ISO 15469, type 1) over a floor that reflects a fifth. */
const overcast: Radiance = ([, y]) => {
  const floor: Rgb = [0.2, 0.195, 0.185];
  const sky: Rgb = scaled([0.97, 1, 1.04], (1 + 2 * Math.max(0, y)) / 3);
  // The horizon is no edge.
  return mixed(floor, sky, smooth(-0.06, 0.06, y));
};

const SUN = unit([0.72, 0.28, 0.63]);

/** Late light: a warm sun low at the right behind the eye, and a sky that pales towards it. */
const lowSun: Radiance = (direction) => {
  const [, y] = direction;
  const nearSun = Math.max(0, dot(direction, SUN));
  const sky = mixed([0.75, 0.72, 0.7], [0.28, 0.42, 0.75], smooth(0, 0.8, y));
  const glow = scaled([1, 0.72, 0.42], 0.9 * nearSun ** 12 + 26 * smooth(0.992, 0.998, nearSun));
  return plus(mixed([0.16, 0.14, 0.12], sky, smooth(-0.04, 0.04, y)), glow);
};

const RADIANCES: Record<Condition["environment"], Radiance> = { overcast, "low-sun": lowSun };

function smooth(from: number, to: number, at: number): number {
  const t = Math.min(1, Math.max(0, (at - from) / (to - from)));
  return t * t * (3 - 2 * t);
}

const WIDTH = 48;
const HEIGHT = 24;
const ROUGHNESSES = [0, 0.15, 0.3, 0.5, 0.75, 1];

/** Directions over longitude and latitude, three numbers each. */
type Grid = Float32Array;

/** A panorama as surfaces meet it. */
export interface Environment {
  /** What falls on a surface that faces a direction: ∫ L cos dω. */
  irradiance(normal: Vector): Rgb;
  /** What a rough mirror shows in a direction. */
  blurred(direction: Vector, roughness: number): Rgb;
}

const made = new Map<string, Environment>();

/** @param turn to the left, in degrees */
export function environmentOf(name: Condition["environment"], turn: number): Environment {
  const still = made.get(name) ?? measured(RADIANCES[name]);
  made.set(name, still);
  if (turn % 360 === 0) return still;
  const [sine, cosine] = [Math.sin((turn * Math.PI) / 180), Math.cos((turn * Math.PI) / 180)];
  const back = ([x, y, z]: Vector): Vector => [x * cosine + z * sine, y, z * cosine - x * sine];
  return {
    irradiance: (normal) => still.irradiance(back(normal)),
    blurred: (direction, roughness) => still.blurred(back(direction), roughness),
  };
}

function measured(radiance: Radiance): Environment {
  const light = gridOf((direction) => average(radiance, direction));
  const irradiance = gridOf((normal) =>
    gathered(light, (toLight) => Math.max(0, dot(normal, toLight)), false),
  );
  const levels = ROUGHNESSES.map((roughness) => {
    if (roughness === 0) return light;
    const alpha = alphaOf(roughness);
    return gridOf((direction) =>
      gathered(
        light,
        (toLight) => {
          const cosine = dot(direction, toLight);
          // Seen along the direction: half-way is at half the angle.
          return cosine <= 0 ? 0 : cosine * ggxDistribution(Math.sqrt((1 + cosine) / 2), alpha);
        },
        true,
      ),
    );
  });
  return {
    irradiance: (normal) => read(irradiance, normal),
    blurred(direction, roughness) {
      let level = 0;
      while (level < ROUGHNESSES.length - 2 && roughness > ROUGHNESSES[level + 1]) level++;
      const at = (roughness - ROUGHNESSES[level]) / (ROUGHNESSES[level + 1] - ROUGHNESSES[level]);
      const smoothest = level === 0 ? radiance(direction) : read(levels[level], direction);
      return mixed(smoothest, read(levels[level + 1], direction), Math.min(1, at));
    },
  };
}

const directionAt = (x: number, y: number): Vector => {
  const latitude = (0.5 - y / HEIGHT) * Math.PI;
  const longitude = (x / WIDTH) * 2 * Math.PI;
  return [
    Math.cos(latitude) * Math.sin(longitude),
    Math.sin(latitude),
    Math.cos(latitude) * Math.cos(longitude),
  ];
};

/** Of the middle of every cell. */
let middles: Vector[] | undefined;
const middlesOfCells = () =>
  (middles ??= Array.from({ length: WIDTH * HEIGHT }, (_, at) =>
    directionAt((at % WIDTH) + 0.5, Math.floor(at / WIDTH) + 0.5),
  ));

function gridOf(value: (direction: Vector) => Rgb): Grid {
  const grid = new Float32Array(WIDTH * HEIGHT * 3);
  for (const [at, direction] of middlesOfCells().entries()) grid.set(value(direction), at * 3);
  return grid;
}

/** Over the cell around a direction: a sun may be smaller than one. */
function average(radiance: Radiance, around: Vector): Rgb {
  const latitude = Math.asin(around[1]);
  const longitude = Math.atan2(around[0], around[2]);
  const [y, x] = [(0.5 - latitude / Math.PI) * HEIGHT, (longitude / (2 * Math.PI)) * WIDTH];
  let sum: Rgb = [0, 0, 0];
  const side = 5;
  for (let i = 0; i < side; i++)
    for (let j = 0; j < side; j++)
      sum = plus(sum, radiance(directionAt(x + (i + 0.5) / side - 0.5, y + (j + 0.5) / side - 0.5)));
  return scaled(sum, 1 / (side * side));
}

/** All light by a weight. @param isMean of the weights, in place of by solid angle */
function gathered(light: Grid, weigh: (toLight: Vector) => number, isMean: boolean): Rgb {
  let [r, g, b, all] = [0, 0, 0, 0];
  const directions = middlesOfCells();
  for (let y = 0, at = 0; y < HEIGHT; y++) {
    const latitude = (0.5 - (y + 0.5) / HEIGHT) * Math.PI;
    const solid = Math.cos(latitude) * (Math.PI / HEIGHT) * ((2 * Math.PI) / WIDTH);
    for (let x = 0; x < WIDTH; x++, at += 3) {
      const weight = weigh(directions[at / 3]) * solid;
      r += light[at] * weight;
      g += light[at + 1] * weight;
      b += light[at + 2] * weight;
      all += weight;
    }
  }
  const share = isMean ? 1 / Math.max(all, 1e-9) : 1;
  return [r * share, g * share, b * share];
}

function read(grid: Grid, [dx, dy, dz]: Vector): Rgb {
  const x = (Math.atan2(dx, dz) / (2 * Math.PI)) * WIDTH - 0.5;
  const y = (0.5 - Math.asin(Math.min(1, Math.max(-1, dy))) / Math.PI) * HEIGHT - 0.5;
  const [left, top] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - left, y - top];
  const row = (at: number) => Math.min(HEIGHT - 1, Math.max(0, at)) * WIDTH;
  const column = (at: number) => ((at % WIDTH) + WIDTH) % WIDTH;
  const [a, b] = [(row(top) + column(left)) * 3, (row(top) + column(left + 1)) * 3];
  const [c, d] = [(row(top + 1) + column(left)) * 3, (row(top + 1) + column(left + 1)) * 3];
  const value = (i: number) =>
    (grid[a + i] * (1 - fx) + grid[b + i] * fx) * (1 - fy) + (grid[c + i] * (1 - fx) + grid[d + i] * fx) * fy;
  return [value(0), value(1), value(2)];
}

/** How light a surface of white is that faces the eye, by an environment alone. */
export const whiteUnder = (environment: Environment): number =>
  luminance(environment.irradiance([0, 0, 1])) / Math.PI;
