import type { Plane } from "#core/raster/plane";

/** Directions in which joints run: down, across, and along both diagonals. */
const RUNS = [
  { step: [1, 0], along: [0, 1] },
  { step: [0, 1], along: [1, 0] },
  { step: [1, 1], along: [1, -1] },
  { step: [1, -1], along: [1, 1] },
] as const;

/** Half the length over which a change has to go on, in samples: noise is not that patient. */
const REACH = 6;

/**
 * What changes at each place across a line that goes on for a while, by the direction in which the line runs: down,
 * across, and the two diagonals. The root keeps one strong contrast from outweighing all joints.
 * @param plane a repeating picture
 */
export function jointsOf(plane: Plane): [down: Plane, across: Plane, falling: Plane, rising: Plane] {
  return RUNS.map(({ step, along }) => {
    const changes = changesOf(plane, step);
    return { ...plane, data: summed(changes, plane, along) };
  }) as [Plane, Plane, Plane, Plane];
}

function changesOf({ width, height, data }: Plane, [dx, dy]: readonly [number, number]): Float32Array {
  const out = new Float32Array(data.length);
  for (let y = 0, i = 0; y < height; y++) {
    const row = ((y + dy + height) % height) * width;
    for (let x = 0; x < width; x++, i++) out[i] = data[row + ((x + dx) % width)] - data[i];
  }
  return out;
}

/** Root of the mean over a short line through each place, as a running sum along each such line of the repeating picture. */
function summed(
  changes: Float32Array,
  { width, height }: Plane,
  [dx, dy]: readonly [number, number],
): Float32Array {
  const out = new Float32Array(changes.length);
  const length = 2 * REACH + 1;
  const at = (x: number, y: number) =>
    (((y % height) + height) % height) * width + (((x % width) + width) % width);
  // Every line starts on one side of the picture: at each column where it runs down, else at each row.
  const starts = dx === 0 ? width : height;
  const steps = dx === 0 ? height : width;
  const places = new Int32Array(steps + length + 1);
  for (let start = 0; start < starts; start++) {
    for (let k = 0; k < places.length; k++)
      places[k] = dx === 0 ? at(start, k - REACH) : at(k - REACH, start + (k - REACH) * dy);
    let sum = 0;
    for (let k = 0; k < length; k++) sum += changes[places[k]];
    for (let k = 0; k < steps; k++) {
      out[places[k + REACH]] = Math.sqrt(Math.abs(sum / length));
      sum += changes[places[k + length]] - changes[places[k]];
    }
  }
  return out;
}
