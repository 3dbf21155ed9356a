import { modulo, periodicFbm, periodicNoise, smoothstep } from "#core/pattern/noise";
import type { PatternSize } from "#core/pattern/patternSet";
import { seededRandom } from "#core/pattern/random";
import { createRaster, type Raster } from "#core/raster/raster";

/** One mark: how much of it there is around its middle, and how far it reaches, in millimetres. */
interface Mark {
  x: number;
  y: number;
  reach: number;
  at(dx: number, dy: number): number;
}

/** Lays marks over a repeat, the stronger one where two meet; they go on across its edges. */
function layMarks({ repeat, widthPx, heightPx }: PatternSize, marks: Mark[]): Raster {
  const out = createRaster(widthPx, heightPx, 1, 8);
  const [pxX, pxY] = [widthPx / repeat.width, heightPx / repeat.height];
  for (const { x, y, reach, at } of marks)
    for (let row = Math.floor((y - reach) * pxY); row <= (y + reach) * pxY; row++)
      for (let column = Math.floor((x - reach) * pxX); column <= (x + reach) * pxX; column++) {
        const mark = at((column + 0.5) / pxX - x, (row + 0.5) / pxY - y);
        const i = modulo(row, heightPx) * widthPx + modulo(column, widthPx);
        out.data[i] = Math.max(out.data[i], Math.round(255 * Math.min(1, Math.max(0, mark))));
      }
  return out;
}

/** Soft over some millimetres: 1 inside. @param over how far outside, in millimetres */
const inside = (over: number, soft: number) => 1 - smoothstep(-soft, soft, over);

/** How far outside an ellipse, about, in millimetres. */
const outOf = (x: number, y: number, rx: number, ry: number) =>
  (Math.hypot(x / rx, y / ry) - 1) * Math.min(rx, ry);

/** From heel to toe. */
const FOOTPRINT_MM = 280;

/** Footprints of walkers in both directions, and short scuffs: light marks. */
export function footprints(size: PatternSize, seed: number): Raster {
  const random = seededRandom(seed);
  const { width, height } = size.repeat;
  const area = (width * height) / 1e6;
  const prints = Array.from({ length: Math.max(1, Math.round(2 * area)) }, (_, i): Mark => {
    const angle = (random() < 0.5 ? 0 : Math.PI) + (random() - 0.5) * 0.9;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    const strength = 0.35 + 0.65 * random();
    return {
      x: random() * width,
      y: random() * height,
      reach: FOOTPRINT_MM / 2 + 8,
      at(dx, dy) {
        const [x, y] = [dx * cos + dy * sin, dy * cos - dx * sin];
        const sole = outOf(x, y + 55, 48 - 0.1 * Math.max(0, y + 55), 85);
        const heel = outOf(x, y - 97, 36, 43);
        const tread = 0.75 + 0.25 * Math.sign(Math.sin((y + 0.04 * x * x) / 3.2));
        const worn = 0.72 + 0.28 * periodicNoise(dx / 300, dy / 300, 14, 14, seed + i);
        return strength * tread * worn * inside(Math.min(sole, heel), 2);
      },
    };
  });
  const scuffs = Array.from({ length: Math.round(5 * area) }, (_, i) =>
    stroke(random, size.repeat, { long: [30, 120], wide: [3, 9], strength: 0.5 }, seed + 100 + i),
  );
  return layMarks(size, [...prints, ...scuffs]);
}

interface Strokes {
  long: readonly [number, number];
  wide: readonly [number, number];
  strength: number;
}

function stroke(
  random: () => number,
  repeat: PatternSize["repeat"],
  { long, wide, strength }: Strokes,
  seed: number,
): Mark {
  const between = ([low, high]: readonly [number, number]) => low + random() * (high - low);
  const [half, thick, angle] = [between(long) / 2, between(wide) / 2, random() * Math.PI];
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const bend = (random() - 0.5) * 0.002;
  const shown = strength * (0.3 + 0.7 * random());
  return {
    x: random() * repeat.width,
    y: random() * repeat.height,
    reach: half + 4 * thick + Math.abs(bend) * half * half,
    at(dx, dy) {
      const along = dx * cos + dy * sin;
      const across = dy * cos - dx * sin - bend * along * along;
      const tapered = 1 - (along / half) ** 2;
      if (tapered <= 0) return 0;
      const broken = smoothstep(-0.7, 0.2, periodicNoise(along / 400 + 0.5, 0.5, 60, 1, seed));
      return shown * broken * Math.sqrt(tapered) * inside(Math.abs(across) - thick, thick * 0.6);
    },
  };
}

/** Fine scratches in all directions: light marks. */
export function scratches(size: PatternSize, seed: number): Raster {
  const random = seededRandom(seed);
  const area = (size.repeat.width * size.repeat.height) / 1e6;
  const kind: Strokes = { long: [30, 240], wide: [1.2, 2.6], strength: 1 };
  return layMarks(
    size,
    Array.from({ length: Math.round(170 * area) }, (_, i) => stroke(random, size.repeat, kind, seed + i)),
  );
}

/** What dried water left: rims with a faint inside, as dark marks on a light ground. */
export function waterStains(size: PatternSize, seed: number): Raster {
  const random = seededRandom(seed);
  const { width, height } = size.repeat;
  const area = (width * height) / 1e6;
  const stains = Array.from({ length: Math.max(3, Math.round(6 * area)) }, (_, i): Mark => {
    const radius = 40 + 190 * random() ** 2;
    const strength = 0.35 + 0.65 * random();
    return {
      x: random() * width,
      y: random() * height,
      reach: radius * 1.5,
      at(dx, dy) {
        const bent = periodicFbm(dx / (3 * radius) + 0.5, dy / (3 * radius) + 0.5, 5, 5, 4, seed + i);
        const over = Math.hypot(dx, dy) - radius * (1 + 0.3 * bent);
        const rim = Math.exp(-((over + 3) ** 2) / (over < 0 ? 90 : 14));
        return strength * (0.75 * rim + 0.3 * inside(over, 4));
      },
    };
  });
  const marks = layMarks(size, stains);
  for (let i = 0; i < marks.data.length; i++) marks.data[i] = 255 - marks.data[i];
  return marks;
}

/** Dust that lies in clouds, with coarser grains in it: light marks. */
export function dust({ repeat, widthPx, heightPx }: PatternSize, seed: number): Raster {
  const out = createRaster(widthPx, heightPx, 1, 8);
  const cells = (mm: number) => [
    Math.max(1, Math.round(repeat.width / mm)),
    Math.max(1, Math.round(repeat.height / mm)),
  ];
  const [cloudX, cloudY] = cells(420);
  const [grainX, grainY] = cells(4);
  for (let y = 0, i = 0; y < heightPx; y++)
    for (let x = 0; x < widthPx; x++, i++) {
      const [u, v] = [(x + 0.5) / widthPx, (y + 0.5) / heightPx];
      const cloud = smoothstep(-0.25, 0.7, periodicFbm(u, v, cloudX, cloudY, 6, seed));
      const grain = smoothstep(0.35, 0.95, periodicNoise(u, v, grainX, grainY, seed + 1));
      out.data[i] = Math.round(255 * Math.min(1, 0.6 * cloud + 0.4 * grain * (0.3 + cloud)));
    }
  return out;
}
