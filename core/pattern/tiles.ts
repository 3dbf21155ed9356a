import { modulo, periodicFbm, periodicNoise, smoothstep } from "#core/pattern/noise";
import { linear, mix, scaled, type Surface } from "#core/pattern/patternSet";
import { hash } from "#core/pattern/random";

export interface TileOptions {
  seed: number;
  /** Work size and joint in millimetres. */
  tile: { width: number; height: number };
  joint: number;
  across: number;
  up: number;
  colors: string[];
  jointColor: string;
  /** "glaze": shiny and wavy, pooling paler at the edges; "matt": fine-grained; "chips": stone chips in a binder. */
  finish: "glaze" | "matt" | "chips";
  chips?: string[];
}

/** Square or rectangular tiles in a grid. */
export function tiles(options: TileOptions): { surface: Surface; repeat: { width: number; height: number } } {
  const { seed, tile, joint, across, up, finish } = options;
  const pitchX = tile.width + joint;
  const pitchY = tile.height + joint;
  const repeat = { width: across * pitchX, height: up * pitchY };
  const colors = options.colors.map(linear);
  const chips = (options.chips ?? []).map(linear);
  const jointColor = linear(options.jointColor);
  const cells = (mm: number) => Math.max(1, Math.round(repeat.width / mm));
  const cellsY = (mm: number) => Math.max(1, Math.round(repeat.height / mm));

  const surface: Surface = (u, v) => {
    const x = u * repeat.width;
    const y = v * repeat.height;
    const column = modulo(Math.floor(x / pitchX), across);
    const row = modulo(Math.floor(y / pitchY), up);
    const wobble = finish === "glaze" ? 0.22 * periodicNoise(u, v, cells(9), cellsY(9), seed + 50) : 0;
    const localX = modulo(x, pitchX) - pitchX / 2;
    const localY = modulo(y, pitchY) - pitchY / 2;
    const radius = finish === "glaze" ? 2.2 : 0.8;
    const qx = Math.abs(localX) - tile.width / 2 + radius;
    const qy = Math.abs(localY) - tile.height / 2 + radius;
    const inside =
      radius - Math.hypot(Math.max(qx, 0), Math.max(qy, 0)) - Math.min(Math.max(qx, qy), 0) + wobble;
    const cover = smoothstep(-0.3, 0.4, inside);

    const cloud = periodicFbm(u, v, cells(70), cellsY(70), 4, seed + 60);
    const fine = periodicFbm(u, v, cells(2), cellsY(2), 2, seed + 61);
    const base = scaled(
      mix(
        colors[Math.floor(hash(column, row, seed + 1) * colors.length)],
        colors[Math.floor(hash(column, row, seed + 2) * colors.length)],
        hash(column, row, seed + 3),
      ),
      0.93 + 0.14 * hash(column, row, seed + 4),
    );

    let color = base;
    let height =
      (hash(column, row, seed + 5) - 0.5) * 0.5 +
      ((hash(column, row, seed + 6) - 0.5) * 0.5 * localX) / tile.width +
      ((hash(column, row, seed + 7) - 0.5) * 0.5 * localY) / tile.height;
    let roughness: number;
    if (finish === "glaze") {
      const pool = 1 - smoothstep(0, 7, inside);
      color = mix(scaled(base, 1 + 0.1 * cloud), scaled(base, 1.55), 0.45 * pool);
      height +=
        0.32 * periodicFbm(u, v, cells(48), cellsY(48), 2, seed + 62) -
        0.9 * (1 - smoothstep(0, 3.5, inside)) ** 2;
      roughness = 0.14 + 0.05 * cloud + 0.1 * pool;
    } else if (finish === "matt") {
      color = scaled(base, 1 + 0.07 * cloud + 0.05 * fine);
      height += 0.05 * fine - 0.5 * (1 - smoothstep(0, 1.6, inside));
      roughness = 0.62 + 0.06 * cloud + 0.04 * fine;
    } else {
      const chip = nearestChip(u, v, cells(13), cellsY(13), seed + 63);
      const isChip = smoothstep(0.06, 0.1, chip.edge);
      const stone = chips[Math.floor(chip.id * chips.length)] ?? base;
      color = mix(
        scaled(base, 1 + 0.08 * cloud + 0.06 * fine),
        scaled(stone, 0.88 + 0.24 * chip.shade),
        isChip,
      );
      height += 0.02 * fine * (1 - isChip) - 0.3 * (1 - smoothstep(0, 1.2, inside));
      roughness = 0.34 - 0.1 * isChip + 0.04 * cloud;
    }
    const grain = periodicFbm(u, v, cells(1.4), cellsY(1.4), 2, seed + 70);
    const jointHeight = -1.6 + 0.15 * grain;
    return {
      color: mix(scaled(jointColor, 1 + 0.1 * grain + 0.08 * cloud), color, cover),
      heightMm: jointHeight + (height - jointHeight) * cover,
      roughness: 0.9 + (roughness - 0.9) * cover,
    };
  };
  return { surface, repeat };
}

/** Cellular pattern (Worley 1996), periodic: the cell's own numbers, and how far its edge is (0 at the edge). */
function nearestChip(u: number, v: number, cellsX: number, cellsY: number, seed: number) {
  const x = u * cellsX;
  const y = v * cellsY;
  let first = Infinity;
  let second = Infinity;
  let [cellX, cellY] = [0, 0];
  for (let j = Math.floor(y) - 1; j <= Math.floor(y) + 1; j++)
    for (let i = Math.floor(x) - 1; i <= Math.floor(x) + 1; i++) {
      const [a, b] = [modulo(i, cellsX), modulo(j, cellsY)];
      const distance = Math.hypot(i + hash(a, b, seed) - x, j + hash(a, b, seed + 1) - y);
      if (distance < first) {
        second = first;
        first = distance;
        [cellX, cellY] = [a, b];
      } else if (distance < second) second = distance;
    }
  const size = hash(cellX, cellY, seed + 4);
  return {
    edge: (second - first) * (0.35 + size) - 0.1 * (1 - size),
    id: hash(cellX, cellY, seed + 2),
    shade: hash(cellX, cellY, seed + 3),
  };
}
