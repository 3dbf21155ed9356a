import { z } from "zod";
import { LengthError, parseLength, type LengthUnit } from "#core/length/parseLength";
import { KEEPS, type Keep, type MeasuredLine, type RepeatMethod } from "#core/gauge/repeat";
import type { Repeat } from "#core/length/repeat";

/** The fields of the gauge as they are typed, empty to begin with. */
export const EMPTY_GAUGE = {
  method: "modules",
  width: "",
  height: "",
  across: "",
  up: "",
  moduleWidth: "",
  moduleHeight: "",
  joint: "",
  jointVertical: "",
  /** As how many modules one piece shows. */
  looksAcross: "",
  looksDown: "",
  /** Corners of the rectangle, in pixels. */
  fromX: "",
  fromY: "",
  toX: "",
  toY: "",
  /** Rows of `LineFields`, as JSON. */
  lines: "[]",
  densityAcross: "",
  densityDown: "",
  /** Id of the material whose size is taken over. */
  material: "",
  keep: "both",
  assumed: "",
};
export type GaugeFields = Record<keyof typeof EMPTY_GAUGE, string>;

const lineFields = z.object({
  fromX: z.string(),
  fromY: z.string(),
  toX: z.string(),
  toY: z.string(),
  length: z.string(),
});
/** A measured line as it is typed. */
export type LineFields = z.infer<typeof lineFields>;

/** A line of which nothing is typed yet. */
export const NO_LINE: LineFields = { fromX: "", fromY: "", toX: "", toY: "", length: "" };

/** The typed lines; none where the text is no such list. */
export function linesOf(fields: Pick<GaugeFields, "lines">): LineFields[] {
  try {
    return z.array(lineFields).max(100).parse(JSON.parse(fields.lines));
  } catch {
    return [];
  }
}

export type GaugeReading =
  | { request: RepeatMethod & { keep: Keep; assumed: boolean } }
  | { field: keyof GaugeFields; message: string }
  /** Not everything is typed yet. */
  | { waiting: true };

class FieldError extends Error {
  constructor(
    readonly field: keyof GaugeFields,
    message: string,
  ) {
    super(message);
  }
}

class Waiting extends Error {}

/**
 * Reads what is typed: lengths as people write them, counts, and points in pixels. The same on the screen and on the server.
 * @param same size of the material that is to be taken over
 */
export function readGauge(fields: GaugeFields, unit: LengthUnit, same?: Repeat | null): GaugeReading {
  const lengthIn = (text: string, field: keyof GaugeFields, allowZero = false): number => {
    if (text.trim() === "") throw new Waiting();
    try {
      return parseLength(text, { unit, allowZero });
    } catch (error) {
      if (error instanceof LengthError) throw new FieldError(field, error.message);
      throw error;
    }
  };
  const length = (field: keyof GaugeFields, allowZero = false) => lengthIn(fields[field], field, allowZero);
  const optional = (field: keyof GaugeFields, allowZero = false) =>
    fields[field].trim() === "" ? undefined : length(field, allowZero);
  const numberIn = (text: string, field: keyof GaugeFields): number => {
    if (text.trim() === "") throw new Waiting();
    const value = Number(text.replace(",", "."));
    if (!Number.isFinite(value)) throw new FieldError(field, `“${text}” is not a number.`);
    return value;
  };
  const number = (field: keyof GaugeFields) => numberIn(fields[field], field);
  const isEmpty = (...names: (keyof GaugeFields)[]) => names.every((name) => fields[name].trim() === "");
  const points = () => ({
    from: { x: number("fromX"), y: number("fromY") },
    to: { x: number("toX"), y: number("toY") },
  });

  /** Counts with their sizes; a direction whose size nobody knows follows from the pixels, counted or not. */
  const counted = (kind: "workSize" | "coverSize") => {
    const across = !isEmpty("moduleWidth");
    const up = !isEmpty("moduleHeight");
    if (!across && !up) throw new Waiting();
    return {
      ...(across && { across: number("across") }),
      ...(up && { up: number("up") }),
      [kind]: {
        ...(across && { width: length("moduleWidth") }),
        ...(up && { height: length("moduleHeight") }),
      },
      ...(!isEmpty("looksAcross", "looksDown") && {
        looksLike: {
          across: isEmpty("looksAcross") ? 1 : number("looksAcross"),
          down: isEmpty("looksDown") ? 1 : number("looksDown"),
        },
      }),
    };
  };
  /** A line whose row is not finished yet is left out, as long as another one is. */
  const lines = (): MeasuredLine[] => {
    const read = linesOf(fields).flatMap((line) => {
      try {
        const at = (text: string) => numberIn(text, "lines");
        return [
          {
            from: { x: at(line.fromX), y: at(line.fromY) },
            to: { x: at(line.toX), y: at(line.toY) },
            length: lengthIn(line.length, "lines"),
          },
        ];
      } catch (error) {
        if (error instanceof Waiting) return [];
        throw error;
      }
    });
    if (read.length === 0) throw new Waiting();
    return read;
  };

  const method = (): RepeatMethod => {
    switch (fields.method) {
      case "size":
        return { method: "size", width: length("width"), height: optional("height") };
      case "modules":
        return {
          method: "modules",
          ...counted("workSize"),
          joint: optional("joint", true) ?? 0,
          jointVertical: optional("jointVertical", true),
        };
      case "cover":
        return { method: "modules", ...counted("coverSize") };
      case "lines":
        return { method: "lines", lines: lines() };
      case "density":
        return {
          method: "density",
          across: number("densityAcross"),
          ...(!isEmpty("densityDown") && { down: number("densityDown") }),
        };
      case "same-as":
        if (fields.material === "") throw new Waiting();
        if (!same) throw new FieldError("material", "The size of that material is unknown too.");
        return { method: "same-as", material: fields.material, width: same.width, height: same.height };
      case "rectangle":
        return { method: "rectangle", ...points(), width: length("width"), height: length("height") };
      default:
        throw new FieldError("method", `“${fields.method}” is no way to a size.`);
    }
  };
  try {
    const keep = KEEPS.find((one) => one === fields.keep) ?? "both";
    return { request: { ...method(), keep, assumed: fields.assumed !== "" } };
  } catch (error) {
    if (error instanceof Waiting) return { waiting: true };
    if (error instanceof FieldError) return { field: error.field, message: error.message };
    throw error;
  }
}

/** The fields as they would be typed to give a size that was found before, with its units. */
export function writeGauge(kept: Record<string, unknown> | null, repeat: Repeat | null = null): GaugeFields {
  const mm = (value: number | undefined) => (value === undefined ? "" : `${Number(value.toFixed(3))} mm`);
  const px = (value: number) => String(Number(value.toFixed(1)));
  const text = (value: number | undefined) => (value === undefined ? "" : String(value));
  if (!kept) return EMPTY_GAUGE;
  // What a model told was not gauged: it stands there as a size to confirm.
  if (kept.method === "model")
    return { ...EMPTY_GAUGE, method: "size", width: mm(repeat?.width), height: mm(repeat?.height) };
  const method = kept as RepeatMethod & { keep?: Keep };
  const start = { ...EMPTY_GAUGE, keep: method.keep ?? "both", method: method.method };
  const line = ({ from, to, length }: MeasuredLine): LineFields => ({
    fromX: px(from.x),
    fromY: px(from.y),
    toX: px(to.x),
    toY: px(to.y),
    length: mm(length),
  });
  switch (method.method) {
    case "size":
    case "fitted":
      return { ...start, method: "size", width: mm(method.width), height: mm(method.height) };
    case "density":
      return { ...start, densityAcross: text(method.across), densityDown: text(method.down) };
    case "same-as":
      return { ...start, material: method.material };
    case "modules": {
      const module = method.coverSize ?? method.workSize;
      return {
        ...start,
        method: method.coverSize ? "cover" : "modules",
        across: text(method.across),
        up: text(method.up),
        moduleWidth: mm(module?.width),
        moduleHeight: mm(module?.height),
        joint: mm(method.joint),
        jointVertical: mm(method.jointVertical),
        looksAcross: text(method.looksLike?.across),
        looksDown: text(method.looksLike?.down),
      };
    }
    case "length":
      return { ...start, method: "lines", lines: JSON.stringify([line(method)]) };
    case "lines":
      return { ...start, lines: JSON.stringify(method.lines.map(line)) };
    case "rectangle": {
      const { from, to, width, height } = method;
      return {
        ...start,
        fromX: px(from.x),
        fromY: px(from.y),
        toX: px(to.x),
        toY: px(to.y),
        width: mm(width),
        height: mm(height),
      };
    }
    default:
      return EMPTY_GAUGE;
  }
}
