import { cut } from "#core/gauge/counting/candidate";
import type { Comb } from "#core/gauge/counting/combs";
import type { Heads } from "#core/gauge/counting/courses";
import type { Laid } from "#core/gauge/counting/evidence";

/** Of a piece, the part whose lightness is taken, and rows of it that are looked at. */
const INNER = 0.6;
const ROWS = 6;

/**
 * How much more the lightness differs from piece to piece than it does where the pieces are taken half a piece off: pieces that are
 * cut from one material, or glazed one by one, each have a tone of their own. In powers of two, 0 where there is no tone.
 * @param heads of the courses; without them whole courses are the pieces
 */
export function pieceTones({ lightness, lightSums }: Laid, bed: Comb, heads?: Heads): number {
  const { width, height } = lightness;
  const course = height / bed.count;
  const count = heads?.count ?? 1;
  const piece = width / count;
  const spread = (right: number, below: number): number => {
    let [sum, squares, cells] = [0, 0, 0];
    for (let k = 0; k < bed.count; k++)
      for (let i = 0; i < count; i++) {
        const shift = heads ? heads.first + ((k * heads.turns) / heads.steps) * piece : 0;
        const tone = meanOf(
          lightSums,
          width,
          height,
          shift + (i + right + (1 - INNER) / 2) * piece,
          bed.first + (k + below + (1 - INNER) / 2) * course,
          heads ? INNER * piece : width,
          INNER * course,
        );
        sum += tone;
        squares += tone * tone;
        cells++;
      }
    return squares / cells - (sum / cells) ** 2;
  };
  const own = spread(0, 0);
  const off = heads ? (spread(0.5, 0) + spread(0, 0.5)) / 2 : spread(0, 0.5);
  return own + off > 1e-7 ? cut(Math.log2((own + 1e-9) / (off + 1e-9)), -2, 3) : 0;
}

function meanOf(
  sums: Float64Array,
  width: number,
  height: number,
  left: number,
  top: number,
  across: number,
  down: number,
): number {
  const steps = Math.min(width, Math.max(1, Math.round(across)));
  const start = ((Math.round(left) % width) + width) % width;
  const end = start + steps;
  const rows = Math.max(1, Math.min(ROWS, Math.round(down)));
  let all = 0;
  for (let k = 0; k < rows; k++) {
    const y = Math.round(top + ((k + 0.5) / rows) * down);
    const row = (((y % height) + height) % height) * (width + 1);
    all +=
      end <= width
        ? sums[row + end] - sums[row + start]
        : sums[row + width] - sums[row + start] + sums[row + end - width];
  }
  return all / (rows * steps);
}
