import { formatLength, formatSize } from "#core/length/formatLength";
import type { LengthUnit } from "#core/length/parseLength";
import type { Line } from "#core/supply/catalogue";

/** What is worth knowing of a line at a glance, in a few words each. */
export function factsOf(line: Line, unit: LengthUnit): string[] {
  const { grade, frost, slip, fire, use } = line.properties;
  return [
    grade,
    line.workSize &&
      line.family !== "plaster" &&
      `${formatSize(line.workSize, unit)}${line.jointMm ? `, joint ${formatLength(line.jointMm, unit)}` : ""}`,
    line.coverSize && `${formatSize(line.coverSize, unit)} shows`,
    use.join(", "),
    frost && `frost ${frost}`,
    slip && `slip ${slip}`,
    fire && `fire ${fire}`,
  ].filter((fact): fact is string => Boolean(fact));
}
