import { modulo, periodicFbm, smoothstep } from "#core/pattern/noise";
import { linear, mix, scaled, type Surface } from "#core/pattern/patternSet";
import { hash } from "#core/pattern/random";

interface Piece {
  /** The same for all points of one piece, and different for its neighbours. */
  key: [number, number];
  /** Millimetres from the nearest edge of the piece's cell, which ends in the middle of the joint. */
  inside: number;
}

export interface PavingOptions {
  seed: number;
  joint: number;
  colors: string[];
  jointColor: string;
}

type Made = { surface: Surface; repeat: { width: number; height: number } };

/** A surface of pieces with joints between them, told apart by colour, height and grain. */
function paved(
  options: PavingOptions,
  repeat: { width: number; height: number },
  pieceAt: (x: number, y: number) => Piece,
): Made {
  const { seed, joint } = options;
  const colors = options.colors.map(linear);
  const jointColor = linear(options.jointColor);
  const cells = (mm: number, side: number) => Math.max(1, Math.round(side / mm));
  const surface: Surface = (u, v) => {
    const { key, inside } = pieceAt(u * repeat.width, v * repeat.height);
    const grain = periodicFbm(u, v, cells(9, repeat.width), cells(9, repeat.height), 2, seed + 9);
    const cover = smoothstep(joint / 2 - 0.6, joint / 2 + 0.6, inside);
    const [a, b] = [1, 2].map((k) => colors[Math.floor(hash(key[0], key[1], seed + k) * colors.length)]);
    const color = scaled(
      mix(a, b, hash(key[0], key[1], seed + 3)),
      (0.9 + 0.2 * hash(key[0], key[1], seed + 4)) * (1 + 0.12 * grain),
    );
    return {
      color: mix(jointColor, color, cover),
      heightMm: cover * (3 + 0.4 * hash(key[0], key[1], seed + 5) + 0.15 * grain),
      roughness: 0.9 - 0.2 * cover,
    };
  };
  return { surface, repeat };
}

/**
 * Blocks twice as long as wide in herringbone, along the edges of the picture or at 45° to them.
 * @param options.width a block's width with its joint
 * @param options.across whole periods across, and down: of 4 widths, or at 45° of √2 and 2√2 widths
 */
export function herringbone(
  options: PavingOptions & { width: number; across: number; down: number; turned: boolean },
): Made {
  const { width, across, down, turned } = options;
  const repeat = turned
    ? { width: across * Math.SQRT2 * width, height: down * 2 * Math.SQRT2 * width }
    : { width: across * 4 * width, height: down * 4 * width };
  return paved(options, repeat, (px, py) => {
    const [x, y] = turned
      ? [(px + py) / (Math.SQRT2 * width), (px - py) / (Math.SQRT2 * width)]
      : [px / width, py / width];
    const [i, j] = [Math.floor(x), Math.floor(y)];
    // Along a row: both halves of a lying block, the lower half of a standing one, the upper half of the next.
    const step = modulo(i - j, 4);
    const lying = step < 2;
    const [left, top] = lying ? [i - step, j] : [i, step === 3 ? j : j - 1];
    const [w, h] = lying ? [2, 1] : [1, 2];
    const inside = Math.min(x - left, left + w - x, y - top, top + h - y) * width;
    // Counted along the translations (1, 1) and (2, −2), which all blocks of a kind follow.
    const long = (left - top - (lying ? 0 : 3)) / 4;
    const short = (left + top - (lying ? 0 : 1)) / 2;
    const key: [number, number] = turned
      ? [modulo(short, across) * 2 + (lying ? 0 : 1), modulo(long, down)]
      : [modulo(left, across * 4) * 2 + (lying ? 0 : 1), modulo(top, down * 4)];
    return { key, inside };
  });
}

/** Hexagons standing on a corner. @param options.width across the flats, with the joint; `rows` must be even */
export function hexagons(options: PavingOptions & { width: number; across: number; rows: number }): Made {
  const { width, across, rows } = options;
  const pitch = (width * Math.sqrt(3)) / 2;
  return paved(options, { width: across * width, height: rows * pitch }, (x, y) => {
    let best: Piece & { far: number } = { key: [0, 0], inside: 0, far: Infinity };
    for (const row of [Math.floor(y / pitch), Math.floor(y / pitch) + 1]) {
      const shift = modulo(row, 2) / 2;
      const column = Math.round(x / width - shift);
      const dx = x - (column + shift) * width;
      const dy = y - row * pitch;
      const far = Math.max(
        Math.abs(dx),
        Math.abs(dx / 2 + (dy * Math.sqrt(3)) / 2),
        Math.abs(dx / 2 - (dy * Math.sqrt(3)) / 2),
      );
      if (far < best.far)
        best = { key: [modulo(column, across), modulo(row, rows)], inside: width / 2 - far, far };
    }
    return best;
  });
}
