import { formatLength, formatSize } from "#core/length/formatLength";
import type { LengthUnit } from "#core/length/parseLength";
import type { Line } from "#core/supply/catalogue";

export interface ComparedRow {
  label: string;
  /** One a line; "–" where the supplier says nothing. */
  values: string[];
  differs: boolean;
}

/** The properties of lines as rows of a table, with those marked in which they differ. */
export function compareLines(lines: Line[], unit: LengthUnit): ComparedRow[] {
  const row = (label: string, value: (line: Line) => string | null | undefined): ComparedRow => {
    const values = lines.map((line) => value(line) || "–");
    return { label, values, differs: new Set(values).size > 1 };
  };
  const size = (of: { width: number; height: number } | null) => of && formatSize(of, unit);
  const length = (mm: number | null) => (mm === null ? null : formatLength(mm, unit));
  return [
    row("Supplier", ({ supplier }) => supplier),
    row("Family", ({ family }) => family),
    row("Surface grade", ({ properties }) => properties.grade),
    row("Place of use", ({ properties }) => properties.use.join(", ")),
    row("Frost (EN 771-1)", ({ properties }) => properties.frost),
    row("Slip (DIN 51130)", ({ properties }) => properties.slip),
    row("Fire (EN 13501-1)", ({ properties }) => properties.fire),
    row("Work size", ({ workSize }) => size(workSize)),
    row("Joint", ({ jointMm }) => length(jointMm)),
    row("Cover size", ({ coverSize }) => size(coverSize)),
    row("Thickness", ({ properties }) => length(properties.thicknessMm)),
    row("Modules in the picture", ({ picture }) => picture && `${picture.across} × ${picture.up}`),
    row("Colours", ({ products }) => String(products.length)),
    row("Colours of the joint", ({ products }) =>
      [...new Set(products.flatMap(({ joints }) => joints.map(({ name }) => name)))].join(", "),
    ),
    row("Licence", ({ licence }) => licence.name),
  ];
}
