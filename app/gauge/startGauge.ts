import type { LengthUnit } from "#core/length/parseLength";
import type { LineFacts } from "#core/supply/catalogue";
import type { GaugeFields } from "./readGauge";
import { asTyped } from "./typedLength";

/**
 * The fields to begin with: as the size was found, or where it is unknown, what the product sheet says of the module, so
 * that only the count is left to say.
 */
export function startGauge(
  fields: GaugeFields,
  material: { sizeState: string; source: { sheet: { line: LineFacts } | null } },
  unit: LengthUnit,
): GaugeFields {
  const line = material.source.sheet?.line;
  const module = line?.coverSize ?? line?.workSize;
  if (material.sizeState !== "unknown" || !line || !module) return fields;
  const text = (mm: number) => asTyped(mm, unit);
  return {
    ...fields,
    method: line.coverSize ? "cover" : "modules",
    moduleWidth: text(module.width),
    moduleHeight: text(module.height),
    joint: line.coverSize || line.jointMm === null ? "" : text(line.jointMm),
  };
}
