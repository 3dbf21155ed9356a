import { GaugeError } from "#core/gauge/repeat";

/** One direction of a surface and of the pattern that covers it; lengths in mm. */
export interface Run {
  /** Length of the wall or floor. */
  length: number;
  /** From one module to the next. */
  coordinating: number;
  /** Of which so much is joint. */
  joint: number;
}

/** A way to change a pattern a little so that it divides a length without a rest. */
export interface Division {
  /** Whole modules, with joints between them only; or whole repeats, joints and all. */
  unit: "modules" | "repeats";
  count: number;
  /** What one of them then measures with its joint, in mm. */
  size: number;
  /** By how much the pattern grows, in percent. */
  changePercent: number;
}

/**
 * The nearest smaller and larger patterns that divide a length into whole modules and into whole repeats, the least
 * change first.
 * @param repeat length of the whole image, mm
 * @throws {GaugeError} where a length is none
 */
export function divisions({ length, coordinating, joint }: Run, repeat: number): Division[] {
  checkRun({ length, coordinating, joint });
  if (!(repeat > 0)) throw new GaugeError("The size of the image has to be known first.", "repeat");
  const nearest = (unit: Division["unit"], whole: number, size: number): Division[] =>
    [...new Set([Math.floor(whole / size), Math.ceil(whole / size)])]
      .filter((count) => count >= 1)
      .map((count) => ({
        unit,
        count,
        size: whole / count,
        changePercent: (whole / count / size - 1) * 100,
      }));
  return [
    ...nearest("modules", length + joint, coordinating),
    ...nearest("repeats", length, repeat),
  ].toSorted((a, b) => Math.abs(a.changePercent) - Math.abs(b.changePercent));
}

/** Where the first course begins on a surface. */
export const STARTS = ["corner", "module", "joint"] as const;
/** With a whole module in the corner; with one in the middle; with a joint in the middle. */
export type Start = (typeof STARTS)[number];

/** What a course needs cut. */
export interface Cuts {
  start: Start;
  /** Where the first whole module begins, mm from the corner, 0 ≤ origin < coordinating. */
  origin: number;
  whole: number;
  /** Widths of the pieces at either end, mm; 0 where the course ends with a whole module or a joint. */
  first: number;
  last: number;
}

/**
 * The cut pieces of a course for one way to begin.
 * @param shift of this course against the first, as a part of the coordinating size
 */
export function cutsOf(run: Run, start: Start, shift = 0): Cuts {
  checkRun(run);
  const { length, coordinating, joint } = run;
  const middle = { corner: 0, module: (length - (coordinating - joint)) / 2, joint: (length + joint) / 2 };
  const origin = remainder(middle[start] + shift * coordinating, coordinating);
  const face = coordinating - joint;
  // Before the first whole module lies a joint, and before that what is left of a module.
  const first = Math.max(0, origin - joint);
  const whole = Math.max(0, Math.floor((length - origin + joint + 1e-6) / coordinating));
  const last = Math.max(0, Math.min(face, length - origin - whole * coordinating));
  return { start, origin, whole, first: rounded(Math.min(first, length)), last: rounded(last) };
}

/** The centred beginning whose end pieces are equal and as wide as can be. */
export function equalCuts(run: Run): Cuts {
  const [module, joint] = [cutsOf(run, "module"), cutsOf(run, "joint")];
  const narrowest = ({ first, last }: Cuts) =>
    // A course that ends with whole modules needs no cut at all.
    first === 0 && last === 0 ? Infinity : Math.min(first || Infinity, last || Infinity);
  return narrowest(module) >= narrowest(joint) ? module : joint;
}

function checkRun({ length, coordinating, joint }: Run): void {
  if (!(length > 0) || length > 1e8)
    throw new GaugeError("The surface needs a length of more than 0 mm.", "length");
  if (!(coordinating > 0)) throw new GaugeError("The module has no size yet.", "coordinating");
  if (!(joint >= 0 && joint < coordinating))
    throw new GaugeError("The joint must be smaller than the module with its joint.", "joint");
  if (length < coordinating - joint)
    throw new GaugeError(
      `One module of ${Number((coordinating - joint).toFixed(1))} mm is larger than the surface.`,
      "length",
    );
}

const remainder = (value: number, by: number) => {
  const rest = ((value % by) + by) % by;
  return by - rest < 1e-6 ? 0 : rest;
};
/** Less than a hundredth of a millimetre is no piece. */
const rounded = (mm: number) => (mm < 0.01 ? 0 : mm);
