import type { Plane } from "#core/raster/plane";

/** In so many parts the courses that come again are looked at; half of them are one course of two. */
const PARTS = 16;
/** Joints that are less alike than this after a pitch, as a share of how alike they are after two, have none at the first. */
const HALF_ALIKE = 0.62;
/** And so alike after two, as a share of all courses together, they are joints. */
const JOINTED = 0.5;

/**
 * Whether every second course begins again after two pitches only, as the stretchers of English bond do between courses of headers,
 * whose joints speak for half of that.
 * @param heads joints across the lines, as `signsOf` reads them
 * @param pitch along the lines, in samples
 * @param courses lines after which the courses begin again
 */
export function hasLongerCourses(heads: Plane, pitch: number, courses: number): boolean {
  const { width, height } = heads;
  if (2 * pitch > width - 2 || courses < 4 || courses > height) return false;
  const [once, twice] = [alikeByPart(heads, pitch, courses), alikeByPart(heads, 2 * pitch, courses)];
  const sumOf = (values: Float64Array, from: number, count: number) => {
    let sum = 0;
    for (let i = 0; i < count; i++) sum += values[(from + i) % PARTS];
    return sum;
  };
  const usual = sumOf(twice, 0, PARTS) / 2;
  if (usual <= 0) return false;
  return Array.from({ length: PARTS }, (_, from) => from).some((from) => {
    const after = sumOf(twice, from, PARTS / 2);
    return after > JOINTED * usual && sumOf(once, from, PARTS / 2) < HALF_ALIKE * after;
  });
}

/** How alike the lines are after a shift along them, by where they lie in what comes again down. */
function alikeByPart({ width, height, data }: Plane, shift: number, courses: number): Float64Array {
  const parts = new Float64Array(PARTS);
  const lines = new Float64Array(PARTS);
  const whole = Math.round(shift);
  const across = Math.max(1, width - whole - 1);
  for (let y = 0; y < height; y++) {
    const part = Math.floor(((y % courses) / courses) * PARTS) % PARTS;
    let sum = 0;
    for (let x = 1; x < across; x++) {
      const i = y * width + x;
      // A pitch is no whole number of samples.
      sum += data[i] * (data[i + whole - 1] + data[i + whole] + data[i + whole + 1]);
    }
    parts[part] += sum / across;
    lines[part]++;
  }
  return parts.map((sum, part) => sum / Math.max(1, lines[part]));
}
