import { MM_PER_UNIT, type LengthUnit } from "#core/length/parseLength";

/** Decimals that still mean something on a building site: a tenth of a millimetre, whatever the unit. */
const DECIMALS: Record<LengthUnit, number> = { mm: 1, cm: 2, m: 3, in: 2, ft: 3 };

/** `215 mm`, `21.5 cm`: a length in millimetres written in one unit, without trailing zeros. */
export function formatLength(mm: number, unit: LengthUnit = "mm"): string {
  return `${formatNumber(mm / MM_PER_UNIT[unit], DECIMALS[unit])} ${unit}`;
}

/** `812 × 824 mm`: width by height in one unit. */
export function formatSize(size: { width: number; height: number }, unit: LengthUnit = "mm"): string {
  const number = (mm: number) => formatNumber(mm / MM_PER_UNIT[unit], DECIMALS[unit]);
  return `${number(size.width)} × ${number(size.height)} ${unit}`;
}

function formatNumber(value: number, decimals: number): string {
  return String(Number(value.toFixed(decimals)));
}
