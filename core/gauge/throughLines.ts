import type { Plane } from "#core/raster/plane";

/** What is at least so much of a strong joint counts as joint. */
const JOINT = 0.55;

/**
 * How much of equally spaced lines is joint, 0..1: 1 where they go through from edge to edge.
 * @param joints what changes across lines of this direction
 * @param direction in which the lines follow each other
 */
export function throughLines(
  { width, height, data }: Plane,
  direction: "across" | "down",
  count: number,
): number {
  const isDown = direction === "down";
  const [side, length] = isDown ? [height, width] : [width, height];
  const at = (line: number, k: number) => data[isDown ? line * width + k : k * width + line];
  const profile = new Float32Array(side);
  for (let line = 0; line < side; line++) for (let k = 0; k < length; k++) profile[line] += at(line, k);
  const pitch = side / count;
  let [best, from] = [-Infinity, 0];
  for (let start = 0; start < pitch; start += 0.5) {
    let sum = 0;
    for (let n = 0; n < count; n++) sum += profile[Math.floor(start + n * pitch) % side];
    if (sum > best) [best, from] = [sum, start];
  }
  const values = new Float32Array(count * length);
  for (let n = 0, i = 0; n < count; n++) {
    const line = Math.floor(from + n * pitch) % side;
    const [before, after] = [(line + side - 1) % side, (line + 1) % side];
    // A joint is two edges, and may lie between two samples.
    for (let k = 0; k < length; k++, i++) values[i] = Math.max(at(before, k), at(line, k), at(after, k));
  }
  const strong = values.slice().sort()[Math.floor(0.9 * values.length)];
  let joint = 0;
  for (const value of values) if (value > JOINT * strong) joint++;
  return joint / values.length;
}
