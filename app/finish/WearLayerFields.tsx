import { useId } from "react";
import { isRelief, POLARITIES, WEAR_EFFECTS, type WearEffect, type WearLayer } from "#core/finish/wear";
import { wearSize } from "#core/finish/wearSize";
import type { Wear } from "#server/material/wear";
import { WearPreview } from "./WearPreview";

const EFFECT_SAYS: Record<WearEffect, string> = {
  rougher: "Marks are rougher than what they lie on: scuffs on a polish.",
  smoother: "Marks are smoother: what many feet have polished.",
  tint: "Marks take this colour, wholly at strength 1: dust, stains.",
  "cut-in": "Marks lie deeper: scratches, dents.",
  "stand-out": "Marks lie higher: splashes, crusts.",
};

/** What an effect begins with, where it needs more than a strength. */
const FIRST_MM = 0.5;
const FIRST_TINT = "#6b5d4a";

interface WearLayerFieldsProps {
  layer: WearLayer;
  wear: Wear;
  onChange(changed: Partial<WearLayer>, touched?: string): void;
}

/** What one layer does, how strongly, where it begins, and how large it is. */
export function WearLayerFields({ layer, wear, onChange }: WearLayerFieldsProps) {
  const id = useId();
  const { effect, strength, polarity, amountMm, tint, turn = 0, start = { x: 0, y: 0 } } = layer;
  const { size, isAssumed } = wearSize({ layer, ...wear });
  const take = (next: WearEffect) =>
    onChange({
      effect: next,
      amountMm: isRelief(next) ? (amountMm ?? FIRST_MM) : undefined,
      tint: next === "tint" ? (tint ?? FIRST_TINT) : undefined,
    });
  return (
    <div className="wear-fields">
      <WearPreview wear={wear} polarity={polarity} />
      <label htmlFor={`${id}-effect`}>Marks</label>
      <select
        id={`${id}-effect`}
        className="form-select form-select-sm"
        value={effect}
        aria-describedby={`${id}-says`}
        onChange={(event) => take(event.target.value as WearEffect)}
      >
        {WEAR_EFFECTS.map((one) => (
          <option key={one}>{one}</option>
        ))}
      </select>
      <p className="aside wide" id={`${id}-says`}>
        {EFFECT_SAYS[effect]}
      </p>
      <Amount
        label="Strength"
        value={strength}
        slider={[0, 1, 0.01]}
        onChange={(value) => onChange({ strength: value }, "strength")}
      />
      {effect === "tint" && (
        <>
          <label htmlFor={`${id}-tint`}>Colour</label>
          <input
            id={`${id}-tint`}
            type="color"
            value={tint ?? FIRST_TINT}
            onChange={(event) => onChange({ tint: event.target.value }, "tint")}
          />
        </>
      )}
      {isRelief(effect) && (
        <Amount
          label={effect === "cut-in" ? "Depth" : "Height"}
          value={amountMm ?? 0}
          slider={[0, 10, 0.05]}
          unit="mm"
          onChange={(value) => onChange({ amountMm: value }, "amount")}
        />
      )}
      <label htmlFor={`${id}-polarity`}>Marks are the</label>
      <select
        id={`${id}-polarity`}
        className="form-select form-select-sm"
        value={polarity}
        onChange={(event) => onChange({ polarity: event.target.value as WearLayer["polarity"] })}
      >
        {POLARITIES.map((one) => (
          <option key={one} value={one}>
            {one} parts
          </option>
        ))}
      </select>
      <Lengths
        label="Size"
        between="×"
        names={["width of the wear in mm", "height of the wear in mm"]}
        values={[Number(size.width.toFixed(2)), Number(size.height.toFixed(2))]}
        onChange={(width, height) => {
          if (width >= 1 && height >= 1) onChange({ repeat: { width, height } }, "size");
        }}
      />
      <p className="aside wide">
        {layer.repeat ? (
          <>
            Another size than its own.{" "}
            <button type="button" className="as-received" onClick={() => onChange({ repeat: undefined })}>
              Its own size
            </button>
          </>
        ) : isAssumed ? (
          <span className="mark look">Its size is assumed: nobody has measured it.</span>
        ) : (
          "Its own size."
        )}
      </p>
      <label htmlFor={`${id}-turn`}>Turned</label>
      <select
        id={`${id}-turn`}
        className="form-select form-select-sm"
        value={turn}
        onChange={(event) => onChange({ turn: Number(event.target.value) as WearLayer["turn"] })}
      >
        {[0, 90, 180, 270].map((degrees) => (
          <option key={degrees} value={degrees}>
            {degrees === 0 ? "not at all" : `${degrees}° clockwise`}
          </option>
        ))}
      </select>
      <Lengths
        label="Begins at"
        between=","
        names={["begins to the right at, mm", "begins downwards at, mm"]}
        values={[start.x, start.y]}
        onChange={(x, y) => onChange({ start: { x, y } }, "start")}
      />
      {wear.currentRevision > wear.revision && (
        <p className="mark look wide">
          Revision {wear.revision} of {wear.code} is laid on; there is a newer one.{" "}
          <button
            type="button"
            className="as-received"
            onClick={() => onChange({ revision: wear.currentRevision })}
          >
            Take revision {wear.currentRevision} over
          </button>
        </p>
      )}
    </div>
  );
}

interface AmountProps {
  label: string;
  value: number;
  slider: readonly [from: number, to: number, step: number];
  unit?: string;
  onChange(value: number): void;
}

/** A slider with its number; more than the slider offers can be typed. */
function Amount({ label, value, slider: [min, max, step], unit = "", onChange }: AmountProps) {
  const id = useId();
  const type = ({ target }: { target: { value: string } }) => onChange(Number(target.value));
  return (
    <>
      <label htmlFor={id}>{label}</label>
      <div className="clause-set">
        <input
          type="range"
          aria-label={`${label.toLowerCase()}, slider`}
          {...{ min, max, step, value }}
          onChange={type}
        />
        <input id={id} type="number" className="form-control" step="any" value={value} onChange={type} />
        <span className="unit">{unit}</span>
      </div>
    </>
  );
}

interface LengthsProps {
  label: string;
  between: string;
  /** What each is called. */
  names: readonly [string, string];
  values: readonly [number, number];
  onChange(first: number, second: number): void;
}

/** Two lengths in millimetres. */
function Lengths({ label, between, names, values: [first, second], onChange }: LengthsProps) {
  const id = useId();
  const common = { type: "number", className: "form-control", step: "any" } as const;
  return (
    <>
      <label htmlFor={id}>{label}</label>
      <div className="wear-pair">
        <input
          {...common}
          id={id}
          aria-label={names[0]}
          value={first}
          onChange={({ target }) => onChange(Number(target.value), second)}
        />
        {between}
        <input
          {...common}
          aria-label={names[1]}
          value={second}
          onChange={({ target }) => onChange(first, Number(target.value))}
        />
        <span className="unit">mm</span>
      </div>
    </>
  );
}
