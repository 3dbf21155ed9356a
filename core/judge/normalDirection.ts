import type { NormalDirection } from "#core/roles/roles";
import { correlation, deviationOf, type Plane } from "#core/raster/plane";
import { maxValue, type Raster } from "#core/raster/raster";
import { slopesOf } from "#core/relief/slopes";

/** Which way green points, and how sure that is. */
export interface DirectionReading {
  direction: NormalDirection;
  /** 0.5..1: the share of the evidence that says so. */
  sure: number;
}

const BLOCK = 64;
const BLOCKS_ACROSS = 6;

/** From this share of what a relief's slopes agree by on, the blocks' word is taken for what it is. */
const FITTING = 0.4;
/** Nothing that pixels say is surer. */
const SUREST = 0.99;

/**
 * A normal map that was made from a relief is integrable: with p and q the slopes along x and down y, ∂p/∂y = ∂q/∂x.
 * Only one of the two readings of green can be. Blocks spread over the image vote, each with the weight of its slopes;
 * `sure` is the share of the weight that agrees, and less where the slopes fit together badly under either reading.
 */
export function directionByCurl(raster: Raster): DirectionReading | null {
  const { width, height } = raster;
  const side = Math.min(BLOCK, width, height);
  if (side < 8) return null;
  let [plus, minus, most] = [0, 0, 0];
  for (let by = 0; by < BLOCKS_ACROSS; by++)
    for (let bx = 0; bx < BLOCKS_ACROSS; bx++) {
      const left = Math.round(((width - side) * bx) / (BLOCKS_ACROSS - 1));
      const top = Math.round(((height - side) * by) / (BLOCKS_ACROSS - 1));
      const { vote, weight } = blockVote(raster, left, top, side);
      if (vote > 0) plus += vote;
      else minus -= vote;
      most += weight;
    }
  const all = plus + minus;
  if (all < 1e-6) return null;
  const fit = Math.min(1, Math.abs(plus - minus) / most / FITTING);
  const sure = Math.min(SUREST, 0.5 + (Math.max(plus, minus) / all - 0.5) * fit);
  return { direction: plus >= minus ? "+Y" : "-Y", sure };
}

/** Above 0 where the block is a relief under +Y, below where it is one under −Y; a perfect relief votes with its whole weight. */
function blockVote(
  raster: Raster,
  left: number,
  top: number,
  side: number,
): { vote: number; weight: number } {
  const { width, channels, data } = raster;
  const scale = 2 / maxValue(raster);
  const p = new Float32Array(side * side);
  const q = new Float32Array(side * side);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++) {
      const o = ((top + y) * width + left + x) * channels;
      const nz = Math.max(0.05, data[o + 2] * scale - 1);
      p[y * side + x] = -(data[o] * scale - 1) / nz;
      q[y * side + x] = -(data[o + 1] * scale - 1) / nz;
    }
  let [cross, energy] = [0, 0];
  for (let y = 1; y < side - 1; y++)
    for (let x = 1; x < side - 1; x++) {
      const i = y * side + x;
      const dpdy = p[i + side] - p[i - side];
      const dqdx = q[i + 1] - q[i - 1];
      cross += dpdy * dqdx;
      energy += dpdy * dpdy + dqdx * dqdx;
    }
  // Under +Y the slope down the image is −q, so a relief has ∂p/∂y = −∂q/∂x.
  if (energy < 1e-3) return { vote: 0, weight: 0 };
  return { vote: (-2 * cross) / Math.sqrt(energy), weight: Math.sqrt(energy) };
}

/** How a height map goes with a normal map. */
export interface HeightAgreement extends DirectionReading {
  /** Correlation of the slopes along x with those of the height, −1..1. */
  across: number;
  /** The same for the slopes down y, under +Y. */
  down: number;
  /** Whether the height is dark where the normals say that it is high. */
  inverted: boolean;
  /** The only direction in which anything rises or falls, where there is but one. */
  only: "across" | "down" | null;
  /** Whether the two have to do with each other, by the slopes that there are. */
  together: boolean;
}

/** Slopes of less than this share of the other direction's energy are as good as none. */
const LEVEL = 0.03;
/** Below this, two maps have nothing to do with each other. */
const STRANGE = 0.15;
const CLEAR = 0.3;
/** How sure it is, with slopes down y alone, that the height is not the one that is upside down. */
const UPRIGHT = 0.92;

/**
 * Correlates the slopes of a normal map with those of a height map of the same size. The x direction tells whether the
 * height is inverted, the y direction then tells which way green points. Boards that lie have slopes down y alone: then the height
 * is taken to be light where it is high. Boards that stand have none, and it makes no difference which way green points.
 */
export function directionByHeight(normal: Raster, height: Plane): HeightAgreement {
  const { p, q } = slopesOf(normal, "+Y");
  const { across: hx, down: hy } = gradientOf(height);
  const across = correlation(p, hx);
  const down = correlation(q, hy);
  const [alongX, alongY] = [deviationOf(p) ** 2, deviationOf(q) ** 2];
  // Slopes that are few count all the same where they go with the height.
  const isNone = (own: number, other: number, agreement: number) =>
    own < LEVEL * other && Math.abs(agreement) < CLEAR;
  const only = isNone(alongY, alongX, down) ? "across" : isNone(alongX, alongY, across) ? "down" : null;
  const inverted = only !== "down" && across < 0;
  const plus = inverted ? -down : down;
  const sure = {
    across: 0.5,
    down: 0.5 + Math.min(1, 2 * Math.abs(down)) * (UPRIGHT - 0.5),
    both: 0.5 + Math.min(1, Math.min(Math.abs(across), Math.abs(down)) * 2) / 2,
  }[only ?? "both"];
  return {
    across,
    down,
    inverted,
    only,
    together: Math.abs(only === "down" ? down : across) > STRANGE,
    direction: plus >= 0 ? "+Y" : "-Y",
    sure: Math.min(SUREST, sure),
  };
}

/** Whether green is level throughout, so that it makes no difference which way it points. */
export function isGreenLevel(normal: Raster): boolean {
  const { p, q } = slopesOf(normal, "+Y");
  const alongX = deviationOf(p);
  return alongX > 1e-3 && deviationOf(q) ** 2 < LEVEL * alongX ** 2;
}

/** Readings that know nothing of each other, as one: each with the weight of its odds, for or against. */
export function weighed(readings: DirectionReading[]): DirectionReading | undefined {
  if (readings.length === 0) return undefined;
  const odds = readings.reduce((sum, { direction, sure }) => {
    const own = Math.log(Math.min(SUREST, sure) / (1 - Math.min(SUREST, sure)));
    return sum + (direction === "+Y" ? own : -own);
  }, 0);
  const sure = Math.min(SUREST, 1 / (1 + Math.exp(-Math.abs(odds))));
  return { direction: odds >= 0 ? "+Y" : "-Y", sure };
}

/** Central differences of a plane that continues at its other side. */
export function gradientOf({ width, height, data }: Plane): { across: Plane; down: Plane } {
  const across = new Float32Array(data.length);
  const down = new Float32Array(data.length);
  for (let y = 0; y < height; y++) {
    const above = ((y + height - 1) % height) * width;
    const below = ((y + 1) % height) * width;
    for (let x = 0; x < width; x++) {
      const row = y * width;
      across[row + x] = (data[row + ((x + 1) % width)] - data[row + ((x + width - 1) % width)]) / 2;
      down[row + x] = (data[below + x] - data[above + x]) / 2;
    }
  }
  return { across: { width, height, data: across }, down: { width, height, data: down } };
}
