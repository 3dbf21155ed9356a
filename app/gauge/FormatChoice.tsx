import { useId, useState } from "react";
import { Form as Fields } from "react-bootstrap";
import { fittingFormats, FORMAT_KINDS, type Format, type FormatKind } from "#core/gauge/formats";
import type { LengthUnit } from "#core/length/parseLength";
import { formatFields, formatWords, type Lie } from "./formatFields";
import type { GaugeFields } from "./readGauge";

interface FormatChoiceProps {
  /** Width and height of a counted module in pixels, where modules were counted both ways. */
  module: { width: number; height: number } | undefined;
  unit: LengthUnit;
  /** The studio's own, and the standard ones. */
  formats: readonly Format[];
  onChoose(fields: Partial<GaugeFields>): void;
}

const KIND_WORDS: Record<FormatKind, string> = {
  brick: "Bricks",
  block: "Blocks",
  paving: "Paving",
  tile: "Tiles",
  board: "Boards and strips",
  slate: "Slates",
  "roof tile": "Roof tiles",
  panel: "Panels",
};

/** More stretch than this is no match. */
const FITS_PERCENT = 4;

/** Names the module: standard formats by kind, those first whose proportions are those that were counted. */
export function FormatChoice({ module, unit, formats, onChoose }: FormatChoiceProps) {
  const id = useId();
  const [chosen, setChosen] = useState("");
  const [lie, setLie] = useState<Lie>("lying");
  const fits = module
    ? fittingFormats(module, 6, formats).filter((fit) => Math.abs(fit.stretchPercent) < FITS_PERCENT)
    : [];
  const format = formats.find((one) => one.id === chosen);
  const choose = (id: string, as: Lie) => {
    setChosen(id);
    setLie(as);
    const next = formats.find((one) => one.id === id);
    if (next) onChoose(formatFields(next, as, unit));
  };
  return (
    <Fields.Group className="mb-1" controlId={id}>
      <Fields.Label>What it is</Fields.Label>
      <Fields.Select
        value={chosen}
        onChange={(event) => {
          const fit = fits.find((one) => one.format.id === event.target.value);
          choose(event.target.value, fit?.turned ? "standing" : "lying");
        }}
      >
        <option value="">A size of its own, typed below</option>
        {fits.length > 0 && (
          <optgroup label="Have the proportions that were counted">
            {fits.map(({ format, turned, stretchPercent }) => (
              <option key={format.id} value={format.id}>
                {formatWords(format, unit)}
                {turned ? ", standing" : ""} ({stretchPercent >= 0 ? "+" : "−"}
                {Math.abs(stretchPercent).toFixed(1)} %)
              </option>
            ))}
          </optgroup>
        )}
        {FORMAT_KINDS.map((kind) => (
          <optgroup key={kind} label={KIND_WORDS[kind]}>
            {formats
              .filter((one) => one.kind === kind && !fits.some(({ format }) => format === one))
              .map((one) => (
                <option key={one.id} value={one.id}>
                  {formatWords(one, unit)}
                </option>
              ))}
          </optgroup>
        ))}
      </Fields.Select>
      {format && (
        <p className="aside">
          {format.source}.{" "}
          <label>
            <input
              type="checkbox"
              checked={lie === "standing"}
              onChange={(event) => choose(chosen, event.target.checked ? "standing" : "lying")}
            />{" "}
            It stands in the picture
          </label>
        </p>
      )}
    </Fields.Group>
  );
}
