import { Form as Fields } from "react-bootstrap";
import type { FoundMaterial } from "../routes/materialFind";
import { formatSize } from "#core/length/formatLength";
import type { Format } from "#core/gauge/formats";
import type { LengthUnit } from "#core/length/parseLength";
import { FindMaterial } from "../components/FindMaterial";
import { FormatChoice } from "./FormatChoice";
import { LineRows } from "./LineRows";
import { linesOf, type GaugeFields } from "./readGauge";

interface InputsProps {
  fields: GaugeFields;
  /** Several fields at once; changes to the same thing in a row are one step of undoing. */
  change(fields: Partial<GaugeFields>, touched?: string): void;
  /** The field that cannot be read. */
  wrong: keyof GaugeFields | undefined;
  unit: LengthUnit;
  /** Width and height of a counted module in pixels. */
  module: { width: number; height: number } | undefined;
  formats: readonly Format[];
  lines: { active: number; residuals: (number | undefined)[]; onActive(index: number): void };
  same: FoundMaterial | undefined;
  onSame(material: FoundMaterial): void;
  /** This material, which is of no use as its own example. */
  material: string;
}

/** What is typed for each way to a size. */
export function GaugeInputs({
  fields,
  change,
  wrong,
  unit,
  module,
  formats,
  lines,
  same,
  onSame,
  material,
}: InputsProps) {
  const input = (field: keyof GaugeFields, label: string, placeholder: string) => (
    <Fields.Group controlId={field} key={field}>
      <Fields.Label>{label}</Fields.Label>
      <Fields.Control
        name={field}
        value={fields[field]}
        placeholder={placeholder}
        autoComplete="off"
        isInvalid={wrong === field}
        onChange={(event) => change({ [field]: event.target.value }, field)}
      />
    </Fields.Group>
  );
  const pair = (...inputs: React.ReactNode[]) => <div className="pair">{inputs}</div>;
  const looksLike = (
    <details open={fields.looksAcross + fields.looksDown !== ""}>
      <summary>One piece looks like several</summary>
      {pair(input("looksAcross", "Across", "1"), input("looksDown", "Up", "1"))}
    </details>
  );
  const format = (
    <FormatChoice module={module} formats={formats} unit={unit} onChoose={(chosen) => change(chosen)} />
  );
  switch (fields.method) {
    case "size":
      return pair(input("width", "Width", "600"), input("height", "Height (if known)", "follows"));
    case "modules":
      return (
        <>
          {pair(input("across", "Modules across", "4"), input("up", "Courses up", "8"))}
          {format}
          {pair(
            input("moduleWidth", "Work size, width", "200"),
            input("moduleHeight", "Work size, height", "100"),
          )}
          {pair(input("joint", "Joint", "3"), input("jointVertical", "Between courses", "the same"))}
          {looksLike}
        </>
      );
    case "cover":
      return (
        <>
          {pair(input("across", "Pieces across", "3"), input("up", "Courses up", "10"))}
          {format}
          {pair(input("moduleWidth", "Cover width", "250"), input("moduleHeight", "Cover height", "105"))}
          {looksLike}
        </>
      );
    case "density":
      return pair(
        input("densityAcross", "Pixels per metre", "1024"),
        input("densityDown", "Downwards (if other)", "the same"),
      );
    case "same-as":
      return (
        <>
          <input type="hidden" name="material" value={fields.material} />
          <FindMaterial
            label="The other material"
            chosen={same}
            without={[material]}
            onChoose={onSame}
            describe={({ repeat, sizeState }) =>
              repeat ? `${formatSize(repeat, unit)}, ${sizeState}` : "size unknown"
            }
          />
        </>
      );
    case "lines":
      return (
        <>
          <input type="hidden" name="lines" value={fields.lines} />
          <LineRows
            lines={linesOf(fields)}
            {...lines}
            onChange={(rows, touched) =>
              change({ lines: JSON.stringify(rows) }, touched && `lines-${touched}`)
            }
          />
        </>
      );
    default:
      return (
        <>
          {pair(input("fromX", "From, across (px)", "0"), input("fromY", "From, down (px)", "0"))}
          {pair(input("toX", "To, across (px)", "100"), input("toY", "To, down (px)", "0"))}
          {pair(input("width", "Its real width", "203"), input("height", "Its real height", "103"))}
        </>
      );
  }
}
