import sharp from "sharp";
import { seededRandom } from "#core/pattern/random";
import { createRaster, type Raster } from "#core/raster/raster";

/**
 * Patterns of another hand than those that the product draws: every pixel asks which piece it lies on and how far from the piece's
 * edge, pieces have tones, gradients, chips and stains of their own, and the noise is of lattice values instead of waves.
 */
export interface OtherPattern {
  name: string;
  kind: OtherKind;
  worn: boolean;
  raster: Raster;
  /** What is right; undefined where nothing repeats. Herringbone in periods. */
  truths: { across?: number; down?: number; bond?: string }[];
}

export const OTHER_KINDS = [
  "stack",
  "half",
  "third",
  "quarter",
  "courses",
  "boards",
  "uprightHalf",
  "english",
  "flemish",
  "basket",
  "herringbone2",
  "herringbone3",
  "herringbone4",
  "hexagon",
  "fine",
  "slats",
  "corrugated",
  "copies",
  "ashlar",
  "plaster",
  "terrazzo",
  "veneer",
] as const;
export type OtherKind = (typeof OTHER_KINDS)[number];

/** The piece under a point: which it is, and how far its nearest edge is. */
interface Piece {
  id: number;
  edge: number;
  /** The upper left edges catch light and the lower right ones lie in shade. */
  lit: number;
}
type Look = (x: number, y: number) => Piece;

interface Drawn {
  width: number;
  height: number;
  look?: Look;
  truths: OtherPattern["truths"];
  /** A relief that goes with the place, beside the pieces. */
  shade?: (x: number, y: number) => number;
  copies?: { across: number; down: number };
}

/** One pattern; the same seed gives the same. */
export async function drawOther(seed: number, kind: OtherKind, worn: boolean): Promise<OtherPattern> {
  const random = seededRandom(seed);
  const drawn = layOut(kind, random);
  const sides = [256, 320, 400, 512, 512, 600, 700, 768, 900, 1000, 1024, 1500];
  const long = sides[Math.floor(random() * sides.length)];
  const scale = long / Math.max(drawn.width, drawn.height);
  const [width, height] = [drawn.width, drawn.height].map((side) => Math.max(96, Math.round(side * scale)));
  const raster = paint(drawn, width, height, random, worn);
  const aged = await photographed(raster, random, worn);
  const [{ across, down }] = drawn.truths;
  return {
    name: `${seed} ${worn ? "worn" : "clean"} ${kind} ${across ?? "–"} × ${down ?? "–"} at ${width} × ${height}`,
    kind,
    worn,
    raster: aged,
    truths: drawn.truths,
  };
}

const hash = (a: number, b: number, seed: number): number => {
  let h = (a * 374761393 + b * 668265263 + seed * 2147483647) | 0;
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  h = Math.imul(h ^ (h >>> 16), 2246822519);
  return ((h ^ (h >>> 15)) >>> 0) / 4294967296;
};
const wrap = (value: number, by: number) => ((value % by) + by) % by;

/** Values on a lattice that closes after so many cells, with smooth steps between them, 0..1. */
function latticeNoise(cells: number, rows: number, seed: number): (u: number, v: number) => number {
  const ease = (t: number) => t * t * (3 - 2 * t);
  return (u, v) => {
    const [x, y] = [u * cells, v * rows];
    const [i, j] = [Math.floor(x), Math.floor(y)];
    const [s, t] = [ease(x - i), ease(y - j)];
    const at = (a: number, b: number) => hash(wrap(i + a, cells), wrap(j + b, rows), seed);
    return (at(0, 0) * (1 - s) + at(1, 0) * s) * (1 - t) + (at(0, 1) * (1 - s) + at(1, 1) * s) * t;
  };
}

function rectangle(id: number, x: number, y: number, width: number, height: number): Piece {
  const [right, bottom] = [width - x, height - y];
  const edge = Math.min(x, y, right, bottom);
  return { id, edge, lit: edge === x || edge === y ? 1 : -1 };
}

/** Courses of pieces of one size, each shifted by its own part. */
function courses(
  across: number,
  down: number,
  width: number,
  height: number,
  shift: (course: number) => number,
) {
  return (x: number, y: number): Piece => {
    const course = Math.floor(y / height);
    const along = wrap(x - shift(course) * width, across * width);
    const n = Math.floor(along / width);
    return rectangle(wrap(course, down) * 997 + n, along - n * width, y - course * height, width, height);
  };
}

/** Courses of given pieces, by their lengths. */
function lengths(rows: number[][], height: number, starts: number[]): Look {
  return (x, y) => {
    const course = Math.floor(y / height);
    const row = rows[wrap(course, rows.length)];
    const total = row.reduce((a, b) => a + b, 0);
    let along = wrap(x - starts[wrap(course, rows.length)], total);
    let n = 0;
    for (; n < row.length - 1 && along >= row[n]; n++) along -= row[n];
    return rectangle(wrap(course, rows.length) * 997 + n, along, y - course * height, row[n], height);
  };
}

const turned =
  (look: Look): Look =>
  (x, y) =>
    look(y, x);

/** Herringbone along the edges of blocks n times as long as wide, on a grid of the width. */
function herringbone(n: number, periods: number): Look {
  return (x, y) => {
    const [i, j] = [Math.floor(x), Math.floor(y)];
    const step = wrap(i - j, 2 * n);
    const side = 2 * n * periods;
    if (step < n) return rectangle(wrap(i - step, side) * 997 + wrap(j, side), step + x - i, y - j, n, 1);
    const along = 2 * n - 1 - step;
    return rectangle(wrap(i, side) * 997 + wrap(j - along, side) + 0.5, x - i, along + y - j, 1, n);
  };
}

function hexagons(across: number, down: number): Look {
  const [w, h] = [1, Math.sqrt(3) / 2];
  return (x, y) => {
    let best = { id: 0, d: Infinity };
    let second = Infinity;
    const row = Math.round(y / h);
    for (let j = row - 1; j <= row + 1; j++) {
      const off = wrap(j, 2) * 0.5;
      const near = Math.round(x / w - off);
      for (let i = near - 1; i <= near + 1; i++) {
        const d = Math.hypot(x - (i + off) * w, y - j * h);
        if (d < best.d) {
          second = best.d;
          best = { id: wrap(i, across) * 997 + wrap(j, down), d };
        } else if (d < second) second = d;
      }
    }
    return { id: best.id, edge: (second - best.d) / 2, lit: y / h > row ? -1 : 1 };
  };
}

function layOut(kind: OtherKind, random: () => number): Drawn {
  const whole = (from: number, to: number) => from + Math.floor(random() * (to - from + 1));
  const even = (from: number, to: number) => 2 * whole(from, to);
  const bonded = (across: number, down: number, part: number, bond: string): Drawn => {
    const [w, h] = [1, 0.22 + 0.35 * random()];
    const sign = random() < 0.5 ? 1 : -1;
    const look = courses(across, down, w, h, (course) => sign * part * course);
    return { width: across * w, height: down * h, look, truths: [{ across, down, bond }] };
  };
  switch (kind) {
    case "stack": {
      const [across, down] = [whole(1, 12), whole(1, 12)];
      const h = 0.5 + random();
      return {
        width: across,
        height: down * h,
        look: courses(across, down, 1, h, () => 0),
        truths: [{ across, down, bond: "stack" }],
      };
    }
    case "half":
      return bonded(whole(1, 10), even(1, 10), 1 / 2, "half");
    case "third":
      return bonded(whole(2, 6), 3 * whole(1, 5), 1 / 3, "third");
    case "quarter":
      return bonded(whole(2, 6), 4 * whole(1, 4), 1 / 4, "quarter");
    case "courses": {
      // Ashlar in courses of one height, stones of any length.
      const down = whole(4, 16);
      const h = 0.3 + 0.2 * random();
      const total = 4 + 4 * random();
      const rows = Array.from({ length: down }, () => cut(total, 0.5, 1.4, random));
      const starts = rows.map(() => random() * total);
      return { width: total, height: down * h, look: lengths(rows, h, starts), truths: [{ down }] };
    }
    case "boards": {
      // Boards of one length whose ends lie anywhere: rows, or the boards of each row as well.
      const [down, boards] = [whole(4, 14), whole(1, 3)];
      const h = 0.08 + 0.08 * random();
      const starts = Array.from({ length: down }, () => random());
      const rows = starts.map(() => Array<number>(boards).fill(1));
      return {
        width: boards,
        height: down * h,
        look: lengths(rows, h, starts),
        truths: [{ down }, { across: boards, down }],
      };
    }
    case "uprightHalf": {
      const lying = bonded(whole(2, 6), even(1, 5), 1 / 2, "half");
      const [{ across, down }] = lying.truths;
      return {
        width: lying.height,
        height: lying.width,
        look: turned(lying.look!),
        truths: [{ across: down, down: across, bond: "half" }],
      };
    }
    case "english": {
      // Courses of stretchers and of headers in turn; a header stands over the middle of a stretcher.
      const [across, down] = [whole(2, 7), even(1, 7)];
      const h = 0.3;
      const rows = Array.from({ length: down }, (_, i) =>
        Array<number>(i % 2 ? 2 * across : across).fill(i % 2 ? 0.5 : 1),
      );
      const starts = rows.map((_, i) => (i % 2 ? 0.25 : 0));
      return {
        width: across,
        height: down * h,
        look: lengths(rows, h, starts),
        truths: [{ across, down, bond: "english" }],
      };
    }
    case "flemish": {
      // Stretcher and header in turn along each course.
      const [pairs, down] = [whole(2, 6), even(1, 7)];
      const h = 0.3;
      const rows = Array.from({ length: down }, () => Array.from({ length: pairs }, () => [1, 0.5]).flat());
      const starts = rows.map((_, i) => (i % 2 ? 0.75 : 0));
      return {
        width: 1.5 * pairs,
        height: down * h,
        look: lengths(rows, h, starts),
        truths: [{ across: pairs, down, bond: "flemish" }],
      };
    }
    case "basket": {
      const [across, down] = [even(1, 5), even(1, 5)];
      const blocks = random() < 0.5 ? 2 : 3;
      const look: Look = (x, y) => {
        const [i, j] = [Math.floor(x), Math.floor(y)];
        const lying = wrap(i + j, 2) === 0;
        const part = Math.floor((lying ? y - j : x - i) * blocks);
        const id = (wrap(i, across) * 97 + wrap(j, down)) * 7 + part;
        return lying
          ? rectangle(id, x - i, y - j - part / blocks, 1, 1 / blocks)
          : rectangle(id, x - i - part / blocks, y - j, 1 / blocks, 1);
      };
      return { width: across, height: down, look, truths: [{ across, down, bond: "basket" }] };
    }
    case "herringbone2":
    case "herringbone3":
    case "herringbone4": {
      const n = Number(kind.slice(-1));
      const periods = whole(1, 5);
      const side = 2 * n * periods;
      const truths = [{ across: periods, down: periods, bond: "herringbone" }];
      return { width: side, height: side, look: herringbone(n, periods), truths };
    }
    case "hexagon": {
      const [across, down] = [whole(3, 10), even(1, 6)];
      return {
        width: across,
        height: (down * Math.sqrt(3)) / 2,
        look: hexagons(across, down),
        truths: [{ across, down, bond: "half" }],
      };
    }
    case "fine": {
      const [across, down] = [whole(33, 48), whole(33, 48)];
      return {
        width: across,
        height: down,
        look: courses(across, down, 1, 1, () => 0),
        truths: [{ across, down, bond: "stack" }],
      };
    }
    case "slats": {
      const down = whole(4, 20);
      const upright = random() < 0.5;
      const look: Look = (_, y) => {
        const n = Math.floor(y);
        const edge = Math.min(y - n, n + 1 - y);
        return { id: wrap(n, down), edge, lit: y - n < 0.5 ? 1 : -1 };
      };
      const long = (0.6 + random()) * down;
      return upright
        ? { width: down, height: long, look: turned(look), truths: [{ across: down }] }
        : { width: long, height: down, look, truths: [{ down }] };
    }
    case "corrugated": {
      const across = whole(5, 40);
      const sharp = 1 + 2 * random();
      return {
        width: across,
        height: (0.5 + random()) * across,
        shade: (x) => Math.abs(Math.sin(Math.PI * x)) ** sharp,
        truths: [{ across }],
      };
    }
    case "copies": {
      // A surface, or irregular stones, two or three times beside each other: pieces of one picture.
      const copies = { across: whole(1, 3), down: whole(1, 3) };
      if (copies.across * copies.down === 1) copies.across = 2;
      const truths = [{}];
      return random() < 0.5
        ? { width: copies.across, height: copies.down, truths, copies }
        : { ...scattered(whole(12, 40), random), width: copies.across, height: copies.down, truths, copies };
    }
    case "ashlar":
      return scattered(whole(8, 60), random);
    case "terrazzo":
      return scattered(whole(200, 900), random);
    default:
      return { width: 1, height: 0.6 + 0.8 * random(), truths: [{}] };
  }
}

/** Lengths between two limits that fill a total. */
function cut(total: number, least: number, most: number, random: () => number): number[] {
  const parts: number[] = [];
  let left = total;
  while (left > most) {
    const part = Math.min(left - least, least + (most - least) * random());
    parts.push(part);
    left -= part;
  }
  return [...parts, left];
}

/** Stones around scattered points, one in each cell of a grid: each place belongs to the nearest. */
function scattered(count: number, random: () => number): Drawn {
  const side = Math.max(3, Math.round(Math.sqrt(count)));
  const points = Array.from({ length: side * side }, () => [random(), random()] as const);
  const look: Look = (u, v) => {
    const [x, y] = [wrap(u, 1) * side, wrap(v, 1) * side];
    const [column, row] = [Math.floor(x), Math.floor(y)];
    let [first, second, id] = [Infinity, Infinity, 0];
    for (let j = row - 2; j <= row + 2; j++)
      for (let i = column - 2; i <= column + 2; i++) {
        const n = wrap(j, side) * side + wrap(i, side);
        const d = Math.hypot(x - i - points[n][0], y - j - points[n][1]);
        if (d < first) [first, second, id] = [d, first, n];
        else if (d < second) second = d;
      }
    return { id, edge: (second - first) / 2 / side, lit: hash(id, 3, 1) < 0.5 ? 1 : -1 };
  };
  return { width: 1, height: 1, look, truths: [{}] };
}

/** Tone by tone: piece, joint, bevel, stains and grain. */
function paint(drawn: Drawn, widthPx: number, heightPx: number, random: () => number, worn: boolean): Raster {
  const out = createRaster(widthPx, heightPx, 3, 8);
  const seed = Math.floor(random() * 1e6);
  const between = (from: number, to: number) => from + (to - from) * random();
  const base = [between(60, 190), between(60, 180), between(50, 170)];
  const contrast = worn ? between(18, 70) : between(50, 120);
  const jointDark = random() < 0.55;
  const jointWidth = between(0.012, 0.05) * (drawn.width === 1 ? 0.4 : 1);
  const variety = worn ? between(4, 45) : between(4, 30);
  const bevel = random() < 0.5 ? between(4, 30) : 0;
  const chips = worn ? between(0.2, 0.9) : between(0, 0.25);
  const stains = worn ? between(10, 55) : between(0, 15);
  const grainAmount = worn ? between(8, 40) : between(2, 16);
  const slope = between(0, worn ? 30 : 12);
  const veined = random() < 0.4;
  const cells = (side: number) => Math.max(2, Math.round(side));
  const stain = latticeNoise(cells(3 + 5 * random()), cells(3 + 5 * random()), seed + 1);
  const fine = latticeNoise(cells(widthPx / between(1.6, 5)), cells(heightPx / between(1.6, 5)), seed + 2);
  const middle = latticeNoise(
    cells(between(20, 60)),
    cells(veined ? between(4, 8) : between(20, 60)),
    seed + 3,
  );
  const ragged = latticeNoise(cells(between(60, 160)), cells(between(60, 160)), seed + 4);
  const copies = drawn.copies ?? { across: 1, down: 1 };
  for (let py = 0, i = 0; py < heightPx; py++)
    for (let px = 0; px < widthPx; px++, i += 3) {
      const [u, v] = [
        wrap(((px + 0.5) / widthPx) * copies.across, 1),
        wrap(((py + 0.5) / heightPx) * copies.down, 1),
      ];
      let tone =
        stains * (stain(u, v) - 0.5) +
        grainAmount * (fine(u, v) - 0.5) +
        0.6 * grainAmount * (middle(u, v) - 0.5);
      let tint = 0;
      const [x, y] = drawn.copies ? [u, v] : [u * drawn.width, v * drawn.height];
      if (drawn.look) {
        const { id, edge, lit } = drawn.look(x, y);
        const own = hash(Math.round(id * 2), 17, seed) - 0.5;
        tone += 2 * variety * own + slope * (hash(Math.round(id * 2), 23, seed) - 0.5) * (lit > 0 ? 1 : -1);
        tint = variety * 0.5 * (hash(Math.round(id * 2), 29, seed) - 0.5);
        const chipped = edge + chips * jointWidth * (ragged(u, v) - 0.5) * 2;
        const inJoint = Math.max(0, Math.min(1, (jointWidth / 2 - chipped) / (jointWidth * 0.25) + 0.5));
        if (inJoint > 0) tone = tone * (1 - 0.7 * inJoint) + (jointDark ? -contrast : contrast) * inJoint;
        else if (bevel > 0 && edge < 2.5 * jointWidth) tone += lit * bevel * (1 - edge / (2.5 * jointWidth));
      }
      if (drawn.shade) tone += contrast * (drawn.shade(x, y) - 0.5);
      for (let c = 0; c < 3; c++)
        out.data[i + c] = Math.min(255, Math.max(0, Math.round(base[c] + tone + (c === 0 ? tint : 0))));
    }
  return out;
}

/** As a camera and a page on the web leave it: blurred, sharpened, noisy, packed. */
async function photographed(raster: Raster, random: () => number, worn: boolean): Promise<Raster> {
  const { width, height } = raster;
  const noise = (worn ? 14 : 4) * random();
  for (let i = 0; i < raster.data.length; i++)
    raster.data[i] = Math.min(255, Math.max(0, Math.round(raster.data[i] + noise * (random() * 2 - 1))));
  let image = sharp(raster.data, { raw: { width, height, channels: 3 } });
  const blur = worn ? random() * 1.6 : random() * 0.7;
  if (blur > 0.35) image = image.blur(blur);
  if (random() < 0.3) image = image.sharpen();
  if (random() < 0.7) image = sharp(await image.jpeg({ quality: 50 + Math.floor(45 * random()) }).toBuffer());
  const { data } = await image.raw().toBuffer({ resolveWithObject: true });
  return { ...raster, data: new Uint8Array(data) };
}
