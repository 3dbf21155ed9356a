import { LengthError, parseLength, type LengthUnit } from "#core/length/parseLength";
import type { Keep, RepeatMethod } from "#core/gauge/repeat";

/** The fields of the gauge as they are typed. */
export type GaugeFields = Record<
  | "method"
  | "width"
  | "height"
  | "across"
  | "up"
  | "moduleWidth"
  | "moduleHeight"
  | "joint"
  | "jointVertical"
  | "length"
  | "fromX"
  | "fromY"
  | "toX"
  | "toY"
  | "keep"
  | "assumed",
  string
>;

export const EMPTY_GAUGE: GaugeFields = {
  method: "modules",
  width: "",
  height: "",
  across: "",
  up: "",
  moduleWidth: "",
  moduleHeight: "",
  joint: "",
  jointVertical: "",
  length: "",
  fromX: "",
  fromY: "",
  toX: "",
  toY: "",
  keep: "both",
  assumed: "",
};

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

/** Reads what is typed: lengths as people write them, counts, and points in pixels. The same on the screen and on the server. */
export function readGauge(fields: GaugeFields, unit: LengthUnit): GaugeReading {
  const length = (field: keyof GaugeFields, allowZero = false): number => {
    if (fields[field].trim() === "") throw new Waiting();
    try {
      return parseLength(fields[field], { unit, allowZero });
    } catch (error) {
      if (error instanceof LengthError) throw new FieldError(field, error.message);
      throw error;
    }
  };
  const optional = (field: keyof GaugeFields, allowZero = false) =>
    fields[field].trim() === "" ? undefined : length(field, allowZero);
  const number = (field: keyof GaugeFields): number => {
    if (fields[field].trim() === "") throw new Waiting();
    const value = Number(fields[field].replace(",", "."));
    if (!Number.isFinite(value)) throw new FieldError(field, `“${fields[field]}” is not a number.`);
    return value;
  };
  const points = () => ({
    from: { x: number("fromX"), y: number("fromY") },
    to: { x: number("toX"), y: number("toY") },
  });

  /** Counts with their sizes; a direction whose two fields are both empty follows from the pixels. */
  const counted = (kind: "workSize" | "coverSize") => {
    const isEmpty = (...names: (keyof GaugeFields)[]) => names.every((name) => fields[name].trim() === "");
    const across = !isEmpty("across", "moduleWidth");
    const up = !isEmpty("up", "moduleHeight");
    if (!across && !up) throw new Waiting();
    return {
      ...(across && { across: number("across") }),
      ...(up && { up: number("up") }),
      [kind]: {
        ...(across && { width: length("moduleWidth") }),
        ...(up && { height: length("moduleHeight") }),
      },
    };
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
      case "length":
        return { method: "length", ...points(), length: length("length") };
      case "rectangle":
        return { method: "rectangle", ...points(), width: length("width"), height: length("height") };
      default:
        throw new FieldError("method", `“${fields.method}” is no way to a size.`);
    }
  };
  try {
    const keep = fields.keep === "width" || fields.keep === "height" ? fields.keep : "both";
    return { request: { ...method(), keep, assumed: fields.assumed !== "" } };
  } catch (error) {
    if (error instanceof Waiting) return { waiting: true };
    if (error instanceof FieldError) return { field: error.field, message: error.message };
    throw error;
  }
}

/** The fields as they would be typed to give a size that was found before, with its units. */
export function writeGauge(kept: Record<string, unknown> | null): GaugeFields {
  const method = kept as (RepeatMethod & { keep?: Keep }) | null;
  // A size that a model told was not gauged.
  if (!method || !["size", "modules", "length", "rectangle"].includes(method.method)) return EMPTY_GAUGE;
  const mm = (value: number | undefined) => (value === undefined ? "" : `${Number(value.toFixed(3))} mm`);
  const px = (value: number) => String(Number(value.toFixed(1)));
  const keep = method.keep ?? "both";
  switch (method.method) {
    case "size":
      return { ...EMPTY_GAUGE, keep, method: "size", width: mm(method.width), height: mm(method.height) };
    case "modules": {
      const module = method.coverSize ?? method.workSize;
      return {
        ...EMPTY_GAUGE,
        keep,
        method: method.coverSize ? "cover" : "modules",
        across: method.across === undefined ? "" : String(method.across),
        up: method.up === undefined ? "" : String(method.up),
        moduleWidth: mm(module?.width),
        moduleHeight: mm(module?.height),
        joint: mm(method.joint),
        jointVertical: mm(method.jointVertical),
      };
    }
    case "length":
    case "rectangle": {
      const { from, to } = method;
      const points = { fromX: px(from.x), fromY: px(from.y), toX: px(to.x), toY: px(to.y) };
      const lengths =
        method.method === "length"
          ? { length: mm(method.length) }
          : { width: mm(method.width), height: mm(method.height) };
      return { ...EMPTY_GAUGE, keep, method: method.method, ...points, ...lengths };
    }
  }
}
