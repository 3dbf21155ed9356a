/**
 * The short fibres of cloth: the distribution of Estevez and Kulla (2017) with the visibility of Neubelt and Pettineo (2013), as
 * glTF's KHR_materials_sheen has them.
 */
export function fuzzLobe(cosineIn: number, cosineOut: number, cosineHalf: number, roughness: number): number {
  const inverse = 1 / Math.max(roughness * roughness, 1e-3);
  const sine = Math.sqrt(Math.max(0, 1 - cosineHalf * cosineHalf));
  const distribution = ((2 + inverse) * sine ** inverse) / (2 * Math.PI);
  return distribution / (4 * (cosineIn + cosineOut - cosineIn * cosineOut));
}

const NODES = 24;
const STEPS = 48;
let table: Float64Array | undefined;

/** How much of the light from all around fuzz of weight 1 and of white reflects towards a direction. @param cosine to the normal */
export function fuzzAlbedo(cosine: number, roughness: number): number {
  const read = (table ??= madeTable());
  const x = Math.min(1, cosine) * (NODES - 1);
  const y = roughness * (NODES - 1);
  const [column, row] = [Math.min(NODES - 2, Math.floor(x)), Math.min(NODES - 2, Math.floor(y))];
  const at = (r: number, c: number) => read[r * NODES + c];
  const upper = at(row, column) + (at(row, column + 1) - at(row, column)) * (x - column);
  const lower = at(row + 1, column) + (at(row + 1, column + 1) - at(row + 1, column)) * (x - column);
  return Math.min(1, upper + (lower - upper) * (y - row));
}

/** The table for whoever reads it elsewhere: rows by roughness, each by the cosine, both from 0 to 1 in 24 steps; the last column is empty. */
export function fuzzRows(): Float32Array {
  const read = (table ??= madeTable());
  const rows = new Float32Array(NODES * (NODES + 1));
  for (let row = 0; row < NODES; row++)
    rows.set(read.subarray(row * NODES, (row + 1) * NODES), row * (NODES + 1));
  return rows;
}

function madeTable(): Float64Array {
  const made = new Float64Array(NODES * NODES);
  for (let row = 0; row < NODES; row++)
    for (let column = 0; column < NODES; column++)
      made[row * NODES + column] = integrated(Math.max(0.01, column / (NODES - 1)), row / (NODES - 1));
  return made;
}

function integrated(cosineOut: number, roughness: number): number {
  const sineOut = Math.sqrt(1 - cosineOut * cosineOut);
  let sum = 0;
  for (let i = 0; i < STEPS; i++) {
    const cosineIn = (i + 0.5) / STEPS;
    const sineIn = Math.sqrt(1 - cosineIn * cosineIn);
    for (let j = 0; j < STEPS; j++) {
      const turn = ((j + 0.5) / STEPS) * Math.PI;
      const x = sineIn * Math.cos(turn) + sineOut;
      const y = sineIn * Math.sin(turn);
      const z = cosineIn + cosineOut;
      sum += fuzzLobe(cosineIn, cosineOut, z / Math.hypot(x, y, z), roughness) * cosineIn;
    }
  }
  return (sum * 2 * Math.PI) / (STEPS * STEPS);
}
