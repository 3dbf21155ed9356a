import { modulo, periodicFbm, periodicNoise, smoothstep } from "#core/pattern/noise";
import { linear, mix, scaled, type Surface } from "#core/pattern/patternSet";
import { hash } from "#core/pattern/random";

export interface PlankOptions {
  seed: number;
  /** Face width and gap in millimetres; boards lie across the image. */
  width: number;
  gap: number;
  rows: number;
  /** Real length after which the boards repeat, and how many boards each row has in it. */
  length: number;
  boards: number;
  /** sRGB: early wood, late wood, and the gap. */
  light: string;
  dark: string;
  gapColor: string;
  /** Rounding of the edges in millimetres. */
  bevel: number;
  /** 0..1: how strongly boards differ from each other. */
  variety: number;
  roughness: number;
}

/** Boards with staggered ends, each sawn from wood of its own. */
export function planks(options: PlankOptions): {
  surface: Surface;
  repeat: { width: number; height: number };
} {
  const { seed, width, gap, rows, length, boards, bevel, variety } = options;
  const pitch = width + gap;
  const repeat = { width: length, height: rows * pitch };
  const [light, dark, gapColor] = [options.light, options.dark, options.gapColor].map(linear);
  const boardLength = length / boards;

  const surface: Surface = (u, v) => {
    const y = v * repeat.height;
    const row = modulo(Math.floor(y / pitch), rows);
    const stagger = (0.37 * row + 0.24 * hash(row, 3, seed)) * boardLength;
    const along = modulo(u * length - stagger, length);
    const board = Math.floor(along / boardLength);
    const id = row * 97 + board;
    const localY = modulo(y, pitch) - pitch / 2;
    const endX = Math.abs(modulo(along, boardLength) - boardLength / 2);
    const inside = Math.min(width / 2 - Math.abs(localY), (boardLength - gap) / 2 - endX);
    const cover = smoothstep(-0.25, 0.35, inside);

    // Growth rings: a slanted cut through a wavering cone gives long arches on some boards and straight grain on others.
    const own = seed + 1000 + id * 13;
    const lengthwise = Math.max(1, Math.round(length / 420));
    const waver = periodicFbm(u, v, lengthwise, rows * 2, 2, own);
    const centre = (hash(id, 1, seed + 7) - 0.5) * width * 2.2;
    const cone =
      ((modulo(along, boardLength) / boardLength) * (0.4 + hash(id, 2, seed + 7)) -
        0.5 * hash(id, 3, seed + 7)) *
      26;
    const distance = Math.hypot((localY - centre) * 0.55, cone * 2 + waver * 16);
    const rings = 0.5 + 0.5 * Math.sin((distance + waver * 9) * (0.55 + 0.35 * hash(id, 4, seed + 7)));
    const ring = smoothstep(0.25, 1, rings) * (0.55 + 0.45 * hash(id, 5, seed + 7));
    const fibre = periodicFbm(u, v, Math.round(length / 55), Math.round(repeat.height / 0.9), 2, own + 3);
    const pores = smoothstep(
      0.52,
      0.85,
      periodicNoise(u, v, Math.round(length / 22), Math.round(repeat.height / 0.8), own + 5),
    );
    const cloud = periodicFbm(u, v, Math.max(2, Math.round(length / 300)), rows * 3, 3, own + 9);

    const tone =
      0.16 + 0.42 * ring + 0.14 * fibre + 0.16 * cloud + variety * (hash(id, 6, seed + 7) - 0.5) * 0.7;
    const shade = (1 + variety * (hash(id, 7, seed + 7) - 0.5) * 0.35) * (1 - 0.28 * pores);
    const warmth = 1 + variety * (hash(id, 8, seed + 7) - 0.5) * 0.1;
    const mixed = scaled(mix(light, dark, Math.min(1, Math.max(0, tone))), shade);
    const wood: [number, number, number] = [mixed[0] * warmth, mixed[1], mixed[2] / warmth];

    const edge = smoothstep(0, Math.max(0.3, bevel), inside);
    const face =
      (hash(id, 9, seed + 7) - 0.5) * 0.25 -
      0.16 * pores -
      0.07 * ring +
      0.05 * fibre -
      (1 - edge) * bevel * 0.7;
    return {
      color: mix(gapColor, scaled(wood, 0.9 + 0.1 * edge), cover),
      heightMm: -3 + (face + 3) * cover,
      roughness: 0.9 + (options.roughness + 0.1 * ring + 0.14 * pores + 0.04 * cloud - 0.9) * cover,
    };
  };
  return { surface, repeat };
}
