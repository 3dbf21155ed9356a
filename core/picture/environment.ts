import { ggxDistribution, alphaOf } from "#core/shade/ggx";
import { isOwnEnvironment, type Condition, type OwnEnvironment } from "#core/picture/condition";
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

const RADIANCES: Record<OwnEnvironment, Radiance> = { overcast, "low-sun": lowSun };

/**
 * A picture of all directions, twice as wide as high: its middle is ahead of the eye, its upper edge above. Linear light, three numbers
 * a pixel, none below 0.
 */
export interface Panorama {
  width: number;
  height: number;
  data: Float32Array;
}

/** Directions by longitude from the eye's to the right, and latitude from above. */
type Grid = Panorama;

/** @throws {RangeError} for what is no panorama */
function radianceIn({ width, height, data }: Panorama): Radiance {
  if (width < 2 || width !== 2 * height || data.length !== width * height * 3)
    throw new RangeError(`A panorama is twice as wide as high: ${width} × ${height} is not.`);
  const panorama = { width, height, data };
  return ([dx, dy, dz]) =>
    readFrom(
      panorama,
      (0.5 + Math.atan2(dx, -dz) / (2 * Math.PI)) * width - 0.5,
      (0.5 - Math.asin(Math.min(1, Math.max(-1, dy))) / Math.PI) * height - 0.5,
    );
}

function smooth(from: number, to: number, at: number): number {
  const t = Math.min(1, Math.max(0, (at - from) / (to - from)));
  return t * t * (3 - 2 * t);
}

export const WIDTH = 48;
export const HEIGHT = 24;
export const LEVEL_ROUGHNESSES = [0, 0.15, 0.3, 0.5, 0.75, 1];

/** An environment before it is turned: what comes from each direction, and what surfaces gather of it. */
export interface LightGrids {
  radiance: Radiance;
  irradiance: Grid;
  /** For the roughnesses of `LEVEL_ROUGHNESSES`. */
  levels: Grid[];
}

/** An environment as surfaces meet it. */
export interface Environment {
  /** What falls on a surface that faces a direction: ∫ L cos dω. */
  irradiance(normal: Vector): Rgb;
  /** What a rough mirror shows in a direction. */
  blurred(direction: Vector, roughness: number): Rgb;
}

const made = new Map<OwnEnvironment, LightGrids>();
const measuredPanoramas = new WeakMap<Panorama, LightGrids>();

/** Measured once. @throws {RangeError} for one that does not ship and whose panorama is not given */
export function lightGridsOf(name: Condition["environment"], panorama?: Panorama): LightGrids {
  if (panorama) {
    const grids = measuredPanoramas.get(panorama) ?? measured(radianceIn(panorama));
    measuredPanoramas.set(panorama, grids);
    return grids;
  }
  if (!isOwnEnvironment(name))
    throw new RangeError(`The panorama of the environment ${name.slice(0, 12)} is not here.`);
  const grids = made.get(name) ?? measured(RADIANCES[name]);
  made.set(name, grids);
  return grids;
}

/**
 * @param turn clockwise seen from above, in degrees
 * @param panorama of an environment that does not ship
 */
export function environmentOf(
  name: Condition["environment"],
  turn: number,
  panorama?: Panorama,
): Environment {
  const still = meeting(lightGridsOf(name, panorama));
  if (turn % 360 === 0) return still;
  const back = turnedBack(turn);
  return {
    irradiance: (normal) => still.irradiance(back(normal)),
    blurred: (direction, roughness) => still.blurred(back(direction), roughness),
  };
}

function turnedBack(turn: number): (direction: Vector) => Vector {
  const [sine, cosine] = [Math.sin((turn * Math.PI) / 180), Math.cos((turn * Math.PI) / 180)];
  return ([x, y, z]) => [x * cosine + z * sine, y, z * cosine - x * sine];
}

function measured(radiance: Radiance): LightGrids {
  const light = gridOf((direction) => average(radiance, direction));
  const irradiance = gridOf((normal) =>
    gathered(light, (toLight) => Math.max(0, dot(normal, toLight)), false),
  );
  const levels = LEVEL_ROUGHNESSES.map((roughness) => {
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
  return { radiance, irradiance, levels };
}

function meeting({ radiance, irradiance, levels }: LightGrids): Environment {
  return {
    irradiance: (normal) => read(irradiance, normal),
    blurred(direction, roughness) {
      let level = 0;
      while (level < LEVEL_ROUGHNESSES.length - 2 && roughness > LEVEL_ROUGHNESSES[level + 1]) level++;
      const at =
        (roughness - LEVEL_ROUGHNESSES[level]) / (LEVEL_ROUGHNESSES[level + 1] - LEVEL_ROUGHNESSES[level]);
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
  const data = new Float32Array(WIDTH * HEIGHT * 3);
  for (const [at, direction] of middlesOfCells().entries()) data.set(value(direction), at * 3);
  return { width: WIDTH, height: HEIGHT, data };
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
function gathered({ data: light }: Grid, weigh: (toLight: Vector) => number, isMean: boolean): Rgb {
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

const read = (grid: Grid, [dx, dy, dz]: Vector): Rgb =>
  readFrom(
    grid,
    (Math.atan2(dx, dz) / (2 * Math.PI)) * WIDTH - 0.5,
    (0.5 - Math.asin(Math.min(1, Math.max(-1, dy))) / Math.PI) * HEIGHT - 0.5,
  );

/** Between the nearest four: round the horizon, and not past the poles. */
function readFrom({ width, height, data }: Panorama, x: number, y: number): Rgb {
  const [left, top] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - left, y - top];
  const row = (at: number) => Math.min(height - 1, Math.max(0, at)) * width;
  const column = (at: number) => ((at % width) + width) % width;
  const [a, b] = [(row(top) + column(left)) * 3, (row(top) + column(left + 1)) * 3];
  const [c, d] = [(row(top + 1) + column(left)) * 3, (row(top + 1) + column(left + 1)) * 3];
  const value = (i: number) =>
    (data[a + i] * (1 - fx) + data[b + i] * fx) * (1 - fy) + (data[c + i] * (1 - fx) + data[d + i] * fx) * fy;
  return [value(0), value(1), value(2)];
}

/** How light a surface of white is that faces the eye, by an environment alone. @param turn clockwise seen from above, in degrees */
export const whiteIn = (irradiance: Grid, turn: number): number =>
  luminance(read(irradiance, turnedBack(turn)([0, 0, 1]))) / Math.PI;
