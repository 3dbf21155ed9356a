import sharp from "sharp";
import { brick } from "#core/pattern/brick";
import { hexagons, herringbone } from "#core/pattern/paving";
import { renderPattern, type Surface } from "#core/pattern/patternSet";
import { planks } from "#core/pattern/planks";
import { seededRandom } from "#core/pattern/random";
import { tiles } from "#core/pattern/tiles";
import { createRaster, type Raster } from "#core/raster/raster";

/** A made-up picture with what is true of it. */
export interface KnownPattern {
  name: string;
  kind: string;
  raster: Raster;
  across?: number;
  down?: number;
}

const PALETTES = [
  ["#9c4a34", "#87402f", "#b05f42"],
  ["#6d6a66", "#5a5856", "#7f7a72"],
  ["#d8cdb6", "#cbbfa6", "#e0d8c4"],
  ["#43474a", "#4d5154", "#3a3e41"],
  ["#2f6f73", "#3a8084", "#285d66"],
];
const JOINTS = ["#b9b0a2", "#6a6762", "#d8d4c8", "#2c2a28"];

type Made = { surface: Surface; repeat: { width: number; height: number } };

/** Patterns of all bonds and sizes, worn by noise, blur, strong JPEG, uneven light and gamma; the same seed gives the same. */
export async function makePattern(index: number, largest = 1024): Promise<KnownPattern> {
  const random = seededRandom(7000 + index);
  const pick = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)];
  const whole = (from: number, to: number) => from + Math.floor(random() * (to - from + 1));
  const kinds = ["stack", "half", "third", "quarter", "herringbone", "herringbone45", "hexagon", "planks"];
  const kind = kinds[index % kinds.length];
  const colors = pick(PALETTES);
  let joint = pick(JOINTS);
  if (joint === "#2c2a28" && colors === PALETTES[3]) joint = "#b9b0a2";
  const common = { seed: index, colors };
  let made: Made;
  let truth: { across?: number; down?: number };
  const bonded = (bond: number, steps: number) => {
    truth = { across: whole(2, 8), down: steps * whole(1, Math.max(1, Math.floor(14 / steps))) };
    if (truth.down! < 2) truth.down = 2;
    return brick({
      ...common,
      brick: { width: whole(180, 300), height: whole(50, 110) },
      joint: whole(5, 14),
      across: truth.across!,
      courses: truth.down!,
      mortar: joint,
      recess: 4,
      roughness: 0.2 + 0.6 * random(),
      bond,
    });
  };
  switch (kind) {
    case "half":
      made = bonded(1 / 2, 2);
      break;
    case "third":
      made = bonded(1 / 3, 3);
      break;
    case "quarter":
      made = bonded(1 / 4, 4);
      break;
    case "stack":
      truth = { across: whole(2, 9), down: whole(2, 9) };
      made = tiles({
        ...common,
        tile: { width: whole(100, 400), height: whole(100, 400) },
        joint: whole(3, 8),
        across: truth.across!,
        up: truth.down!,
        jointColor: joint,
        finish: pick(["glaze", "matt"] as const),
      });
      break;
    case "herringbone":
    case "herringbone45":
      truth = { across: whole(2, 5), down: whole(2, 4) };
      made = herringbone({
        ...common,
        joint: whole(3, 8),
        jointColor: joint,
        width: whole(70, 120),
        across: truth.across!,
        down: truth.down!,
        turned: kind === "herringbone45",
      });
      break;
    case "hexagon":
      truth = { across: whole(3, 8), down: 2 * whole(1, 5) };
      made = hexagons({
        ...common,
        joint: whole(3, 8),
        jointColor: joint,
        width: whole(100, 260),
        across: truth.across!,
        rows: truth.down!,
      });
      break;
    default:
      truth = { down: whole(4, 10) };
      made = planks({
        seed: index,
        width: whole(90, 200),
        gap: 2 + 4 * random(),
        rows: truth.down!,
        length: 2400,
        boards: 1,
        light: colors[0],
        dark: colors[1],
        gapColor: "#1c130d",
        bevel: 2,
        variety: 0.3 + 0.4 * random(),
        roughness: 0.5,
      });
  }
  const { width, height } = made.repeat;
  const pixels = Math.min(largest, pick([256, 512, 512, 1024, 2048, 4096]));
  const scale = pixels / Math.max(width, height);
  const drawn = renderPattern(made.surface, {
    repeat: made.repeat,
    widthPx: Math.max(64, Math.round(width * scale)),
    heightPx: Math.max(64, Math.round(height * scale)),
  }).base_color;
  return {
    name: `${index} ${kind} ${truth!.across ?? "–"} × ${truth!.down} at ${drawn.width} × ${drawn.height}`,
    kind,
    raster: await worn(drawn, random),
    ...truth!,
  };
}

/** Noise, blur, gamma and slow light; and then a JPEG of quality 60. */
async function worn(raster: Raster, random: () => number): Promise<Raster> {
  const { width, height, data } = raster;
  const out = createRaster(width, height, 3, 8);
  const gamma = 0.7 + 0.7 * random();
  const noise = 20 * random();
  const light = 0.35 * random();
  const phase = 2 * Math.PI * random();
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const shade =
        1 + light * Math.sin((2 * Math.PI * x) / width + phase) * Math.cos((2 * Math.PI * y) / height);
      for (let c = 0; c < 3; c++, i++) {
        const v = 255 * (data[i] / 255) ** gamma * shade + noise * (random() + random() - 1);
        out.data[i] = Math.min(255, Math.max(0, Math.round(v)));
      }
    }
  const blur = random() * 1.2;
  let image = sharp(out.data, { raw: { width, height, channels: 3 } });
  if (blur > 0.3) image = image.blur(blur);
  const jpeg = await image.jpeg({ quality: 60 }).toBuffer();
  const read = await sharp(jpeg).raw().toBuffer();
  return { ...out, data: new Uint8Array(read) };
}
