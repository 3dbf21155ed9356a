import {
  atRest,
  CARD_PX,
  DOMES_IN_A_ROW,
  GRID,
  MARKS,
  MARK_RADII,
  middleOf,
  NUMBER_CELLS,
  PATCHES,
  PATCH_SIDE,
  SCALE,
  TEETH,
  type CardFile,
  type Paint,
  type Side,
  type TeethName,
} from "#core/card/layout";
import { bitsOfNumber } from "#core/card/number";
import { createRaster, maxValue, type Raster } from "#core/raster/raster";

/** Grains of a patch, in one direction: coarse enough to be seen apart, so that no reduction mixes them before they are decoded. */
const GRAINS = 10;

const CHANNELS: Record<CardFile, Raster["channels"]> = {
  color: 4,
  shine: 1,
  normal: 3,
  height: 1,
  occlusion: 1,
  opacity: 1,
  transparency: 1,
  metal: 1,
  packed: 3,
};

/** One file of a card: the height with 16 bits, everything else with 8; the colours with a fourth channel. */
export function paintCard(file: CardFile, number: number): Raster {
  const out = createRaster(CARD_PX, CARD_PX, CHANNELS[file], file === "height" ? 16 : 8);
  const most = maxValue(out);
  const marks = file === "color" ? markPainter(number) : () => undefined;
  for (let y = 0, at = 0; y < CARD_PX; y++)
    for (let x = 0; x < CARD_PX; x++, at += out.channels) {
      const [u, v] = [(x + 0.5) / CARD_PX, (y + 0.5) / CARD_PX];
      const { paint, alpha, s, t } = patchAt(file, u, v);
      const mark = marks(u, v);
      const value = mark === undefined ? valueOf(file, paint, s, t) : [mark, mark, mark];
      for (let channel = 0; channel < Math.min(3, out.channels); channel++)
        out.data[at + channel] = Math.round(most * value[Math.min(channel, value.length - 1)]);
      if (out.channels === 4) out.data[at + 3] = Math.round(most * alpha);
    }
  return out;
}

const HALF = PATCH_SIDE / 2;
/** By column and row. */
const BY_PLACE = Array.from({ length: GRID.columns }, (_, column) =>
  Array.from({ length: GRID.rows }, (_, row) =>
    PATCHES.find((patch) => patch.column === column && patch.row === row),
  ),
);

/** What lies at a place, and where in it that is: from 0 to 1, to the right and down. */
function patchAt(file: CardFile, u: number, v: number) {
  const [column, row] = [Math.floor((u - GRID.left) / GRID.pitch), Math.floor((v - GRID.top) / GRID.pitch)];
  const patch = BY_PLACE[column]?.[row];
  const middle = middleOf({ column, row });
  const [s, t] = [(u - middle.x) / PATCH_SIDE + 0.5, (v - middle.y) / PATCH_SIDE + 0.5];
  const isInside = Math.abs(u - middle.x) < HALF && Math.abs(v - middle.y) < HALF;
  return {
    paint: isInside ? patch?.paint[file] : undefined,
    alpha: isInside ? (patch?.alpha ?? 1) : 1,
    s,
    t,
  };
}

function valueOf(file: CardFile, paint: Paint | undefined, s: number, t: number): readonly number[] {
  switch (paint?.kind) {
    case "flat":
      return paint.value;
    case "halves":
      return s < 0.5 ? paint.left : paint.right;
    case "grains":
      return [isGrain(s, t, paint.share / 100) ? 1 : 0];
    case "dome":
      return dome(s, t);
    case "domes":
      return [cap((s * DOMES_IN_A_ROW) % 1, (t * DOMES_IN_A_ROW) % 1, paint.height)];
    case "slope":
      return [tooth(paint, s, t)];
    default:
      return atRest(file);
  }
}

/** Which grains are 1: drawn in a fixed order, so that each share is met as well as whole grains allow. */
const ORDER = (() => {
  const order = Array.from({ length: GRAINS ** 2 }, (_, at) => at);
  let seed = 7;
  for (let at = order.length - 1; at > 0; at--) {
    seed = (seed * 1103515245 + 12345) % 2147483648;
    const other = seed % (at + 1);
    [order[at], order[other]] = [order[other], order[at]];
  }
  return order;
})();
const isGrain = (s: number, t: number, share: number) =>
  ORDER[Math.floor(t * GRAINS) * GRAINS + Math.floor(s * GRAINS)] < Math.round(share * GRAINS ** 2);

/** At its rim it leans by this. */
const DOME_SINE = 0.8;

/** Codes of the normal of a round bump, green up. */
function dome(s: number, t: number): number[] {
  const [x, y] = [(s - 0.5) * 2, (0.5 - t) * 2];
  const far = Math.hypot(x, y);
  if (far >= 1) return [0.5, 0.5, 1];
  const [nx, ny] = [x * DOME_SINE, y * DOME_SINE];
  return [nx, ny, Math.sqrt(1 - nx * nx - ny * ny)].map((part) => (part + 1) / 2);
}

/** Height of a round bump: half a ball, pressed. */
function cap(s: number, t: number, height: number): number {
  const far = Math.hypot(s - 0.5, t - 0.5) * 2;
  return far >= 1 ? 0.5 : 0.5 + height * (Math.sqrt(1 - far * far) - 0.5);
}

/** Height of a saw tooth: highest where it begins, lowest towards the side that it falls to. */
function tooth({ towards, teeth }: { towards: Side; teeth: TeethName }, s: number, t: number): number {
  const { count, from, to } = TEETH[teeth];
  const along = { right: s, left: 1 - s, down: t, up: 1 - t }[towards] * count;
  return to - (along - Math.floor(along)) * (to - from);
}

const [BLACK, WHITE] = [0.05, 0.95];

/** What of the marks, the number and the scale lies at a place: its code, or nothing. */
function markPainter(number: number): (u: number, v: number) => number | undefined {
  const bits = bitsOfNumber(number);
  return (u, v) => {
    for (const { x, y, heart } of MARKS) {
      const far = Math.hypot(u - x, v - y);
      if (far > MARK_RADII.dark) continue;
      if (far > MARK_RADII.light) return BLACK;
      if (far > MARK_RADII.core) return WHITE;
      if (heart === "plain") return BLACK;
      // Of a dot the middle is light; of a ring it is dark again.
      if (far > MARK_RADII.core * 0.66) return BLACK;
      return heart === "ring" && far < MARK_RADII.core * 0.33 ? BLACK : WHITE;
    }
    const cell = Math.floor((u - NUMBER_CELLS.x) / NUMBER_CELLS.side);
    if (cell >= 0 && cell < bits.length && v >= NUMBER_CELLS.y && v < NUMBER_CELLS.y + NUMBER_CELLS.side)
      return bits[cell] ? BLACK : WHITE;
    const [along, down] = [(u - SCALE.x) / SCALE.width, (v - SCALE.y) / SCALE.height];
    if (along < 0 || along >= 1 || down < 0 || down >= 1) return undefined;
    const centimetre = (u - SCALE.x) * 100;
    const length = Math.floor(centimetre) % 10 === 0 ? 1 : Math.floor(centimetre) % 5 === 0 ? 0.7 : 0.4;
    return centimetre % 1 < 0.2 && down < length ? BLACK : WHITE;
  };
}
