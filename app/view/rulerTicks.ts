import { MM_PER_UNIT, type LengthUnit } from "#core/length/parseLength";

/** Pixels of the image, where its real size is unknown. */
export type RulerUnit = LengthUnit | "px";

export interface RulerScale {
  /** Pixels of screen for one real millimetre, or for one pixel of the image. */
  pxPerMm: number;
  unit: RulerUnit;
  /** What lies at the ruler's beginning, in millimetres or pixels of the image. */
  from: number;
  /** Length of the ruler in pixels of screen. */
  length: number;
}

export interface Tick {
  /** Pixels of screen from the ruler's beginning. */
  at: number;
  /** The number at a major division, in the ruler's unit. */
  label?: string;
}

/** Major divisions stand at least this far apart on the screen, so that their numbers do not touch. */
const LEAST_PX = 70;
const MOST_TICKS = 800;

/** Divisions of a ruler: major ones at 1, 2 or 5 times a power of ten, four or five minor ones between them. */
export function rulerTicks({ pxPerMm, unit, from, length }: RulerScale): Tick[] {
  const perUnit = unit === "px" ? 1 : MM_PER_UNIT[unit];
  const pxPerUnit = pxPerMm * perUnit;
  const { major, parts } = divisions(LEAST_PX / pxPerUnit);
  const minor = major / parts;
  const start = from / perUnit;
  const ticks: Tick[] = [];
  const last = Math.floor((start + length / pxPerUnit) / minor + 1e-9);
  for (let n = Math.ceil(start / minor - 1e-9); n <= last && ticks.length < MOST_TICKS; n++) {
    const at = (n * minor - start) * pxPerUnit;
    ticks.push(n % parts === 0 ? { at, label: String(Number((n * minor).toFixed(6))) } : { at });
  }
  return ticks;
}

function divisions(least: number): { major: number; parts: number } {
  const power = 10 ** Math.floor(Math.log10(least) + 1e-9);
  const factor = [1, 2, 5, 10].find((candidate) => candidate * power >= least * 0.999)!;
  return { major: factor * power, parts: factor === 2 ? 4 : 5 };
}
