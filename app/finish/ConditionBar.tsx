import type { ReactNode } from "react";
import { Form as Fields } from "react-bootstrap";
import { CONDITIONS, type Condition } from "#core/picture/condition";
import { SHAPES, type View } from "#core/picture/view";

/** The light and the shape that are looked at, as somebody has set them. */
export interface Light {
  named: keyof typeof CONDITIONS;
  /** In place of the condition's own. */
  lamp?: { around: number; above: number };
  exposureStops: number;
  tone: Condition["tone"];
  shape: View["shape"];
  cards: boolean;
}

export const FIRST_LIGHT: Light = {
  named: "studio",
  exposureStops: 0,
  tone: "none",
  shape: "panel",
  cards: false,
};

/** The condition that is meant, and how the title block says it. */
export function conditionOf({ named, lamp, exposureStops, tone }: Light): {
  condition: Condition;
  words: string;
} {
  const base: Condition = CONDITIONS[named];
  const stops = exposureStops
    ? `, ${exposureStops > 0 ? "+" : "−"}${Math.abs(exposureStops)} ${Math.abs(exposureStops) === 1 ? "stop" : "stops"}`
    : "";
  return {
    condition: {
      ...base,
      ...(lamp && { lampAround: lamp.around, lampAbove: lamp.above }),
      exposureStops,
      tone,
    },
    words: `${base.name}${lamp ? `, lamp ${lamp.above}° above` : ""}${stops}${tone === "neutral" ? ", neutral curve" : ""}`,
  };
}

interface ConditionBarProps {
  light: Light;
  onLight(light: Light): void;
  /** What it is compared with. */
  children: ReactNode;
}

/** What the picture is looked at under. */
export function ConditionBar({ light, onLight, children }: ConditionBarProps) {
  const { condition } = conditionOf(light);
  const set = (changed: Partial<Light>) => onLight({ ...light, ...changed });
  const { lampAround: around, lampAbove: above } = condition;
  return (
    <div className="finish-conditions">
      <label>
        Condition
        <Fields.Select
          aria-label="Condition"
          size="sm"
          value={light.named}
          onChange={(event) => set({ named: event.target.value as Light["named"], lamp: undefined })}
        >
          {Object.entries(CONDITIONS).map(([id, { name }]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Fields.Select>
      </label>
      <label>
        Shape
        <Fields.Select
          aria-label="Shape"
          size="sm"
          value={light.shape}
          onChange={(event) => set({ shape: event.target.value as Light["shape"] })}
        >
          {SHAPES.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Fields.Select>
      </label>
      {children}
      <label>
        Lamp {above}°
        <Fields.Range
          min={3}
          max={90}
          value={above}
          onChange={(event) => set({ lamp: { around, above: Number(event.target.value) } })}
        />
      </label>
      <label>
        from {around}°
        <Fields.Range
          min={0}
          max={360}
          value={around}
          onChange={(event) => set({ lamp: { above, around: Number(event.target.value) } })}
        />
      </label>
      <label>
        Exposure {light.exposureStops > 0 ? "+" : ""}
        {light.exposureStops}
        <Fields.Range
          min={-3}
          max={3}
          step={0.25}
          value={light.exposureStops}
          onChange={(event) => set({ exposureStops: Number(event.target.value) })}
        />
      </label>
      <label>
        Tone
        <Fields.Select
          aria-label="Tone"
          size="sm"
          value={light.tone}
          onChange={(event) => set({ tone: event.target.value as Condition["tone"] })}
        >
          <option value="none">cut off</option>
          <option value="neutral">neutral curve</option>
        </Fields.Select>
      </label>
      <Fields.Check
        type="checkbox"
        id="cards"
        label="Grey and white cards"
        checked={light.cards}
        disabled={light.shape !== "panel"}
        onChange={(event) => set({ cards: event.target.checked })}
      />
    </div>
  );
}
