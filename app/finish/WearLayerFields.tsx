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
  const number = (text: string) => (text.trim() === "" ? undefined : Number(text));
  const resize = (changed: Partial<typeof size>) => {
    const repeat = { ...size, ...changed };
    if (repeat.width >= 1 && repeat.height >= 1) onChange({ repeat }, "size");
  };
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
      <label htmlFor={`${id}-strength`}>Strength</label>
      <div className="clause-set">
        <input
          type="range"
          aria-label="strength, slider"
          min={0}
          max={1}
          step={0.01}
          value={strength}
          onChange={(event) => onChange({ strength: Number(event.target.value) }, "strength")}
        />
        <input
          id={`${id}-strength`}
          type="number"
          className="form-control"
          step="any"
          value={strength}
          onChange={(event) => onChange({ strength: number(event.target.value) ?? 0 }, "strength")}
        />
        <span className="unit" />
      </div>
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
        <>
          <label htmlFor={`${id}-amount`}>{effect === "cut-in" ? "Depth" : "Height"}</label>
          <div className="clause-set">
            <input
              type="range"
              aria-label="depth or height, slider"
              min={0}
              max={10}
              step={0.05}
              value={amountMm ?? 0}
              onChange={(event) => onChange({ amountMm: Number(event.target.value) }, "amount")}
            />
            <input
              id={`${id}-amount`}
              type="number"
              className="form-control"
              step="any"
              value={amountMm ?? 0}
              onChange={(event) => onChange({ amountMm: number(event.target.value) ?? 0 }, "amount")}
            />
            <span className="unit">mm</span>
          </div>
        </>
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
      <label htmlFor={`${id}-width`}>Size</label>
      <div className="wear-pair">
        <input
          id={`${id}-width`}
          type="number"
          className="form-control"
          aria-label="width of the wear in mm"
          step="any"
          value={Number(size.width.toFixed(2))}
          onChange={(event) => resize({ width: number(event.target.value) })}
        />
        ×
        <input
          type="number"
          className="form-control"
          aria-label="height of the wear in mm"
          step="any"
          value={Number(size.height.toFixed(2))}
          onChange={(event) => resize({ height: number(event.target.value) })}
        />
        <span className="unit">mm</span>
      </div>
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
      <label htmlFor={`${id}-x`}>Begins at</label>
      <div className="wear-pair">
        <input
          id={`${id}-x`}
          type="number"
          className="form-control"
          aria-label="begins to the right at, mm"
          step="any"
          value={start.x}
          onChange={(event) => onChange({ start: { ...start, x: number(event.target.value) ?? 0 } }, "start")}
        />
        ,
        <input
          type="number"
          className="form-control"
          aria-label="begins downwards at, mm"
          step="any"
          value={start.y}
          onChange={(event) => onChange({ start: { ...start, y: number(event.target.value) ?? 0 } }, "start")}
        />
        <span className="unit">mm</span>
      </div>
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
