import { useState, type ReactNode } from "react";
import { Form as Fields } from "react-bootstrap";
import { formatLength } from "#core/length/formatLength";
import { LengthError, parseLength } from "#core/length/parseLength";
import { GROUNDS, isOwnEnvironment, type Condition, type Light } from "#core/picture/condition";
import { SHAPES, type View } from "#core/picture/view";
import { Button } from "../components/Button";
import { useView } from "../view/viewContext";
import { KeepCondition } from "./KeepCondition";
import { conditionOf, SHIPPED, WIDTHS, type OfferedCondition, type SetLight } from "./light";

interface ConditionBarProps {
  light: SetLight;
  onLight(light: SetLight): void;
  /** Conditions of the studio's own. */
  own: OfferedCondition[];
  /** Panoramas of the library. */
  environments: { sha256: string; name: string }[];
  mayMake: boolean;
  /** What it is compared with. */
  children: ReactNode;
}

/** What the picture is looked at under: a condition by its name, whose light unfolds. */
export function ConditionBar({ light, onLight, own, environments, mayMake, children }: ConditionBarProps) {
  const [isOpen, setOpen] = useState(false);
  const { condition, chosen, isChanged } = conditionOf(light, own);
  const set = (changed: Partial<SetLight>) => onLight({ ...light, ...changed });
  return (
    <>
      <div className="finish-conditions">
        <label>
          Condition
          <Fields.Select
            aria-label="Condition"
            size="sm"
            value={chosen.id}
            onChange={(event) => set({ named: event.target.value, changed: {} })}
          >
            {SHIPPED.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
            {own.length > 0 && (
              <optgroup label="The studio’s own">
                {own.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </optgroup>
            )}
          </Fields.Select>
        </label>
        <Button
          size="sm"
          variant="outline-secondary"
          aria-expanded={isOpen}
          aria-controls="finish-light"
          onClick={() => setOpen(!isOpen)}
        >
          Light{isChanged ? ", changed" : ""}
        </Button>
        <label>
          Shape
          <Fields.Select
            aria-label="Shape"
            size="sm"
            value={light.shape}
            onChange={(event) => set({ shape: event.target.value as View["shape"] })}
          >
            {SHAPES.map((one) => (
              <option key={one}>{one}</option>
            ))}
          </Fields.Select>
        </label>
        {(light.shape === "block" || light.shape === "wall") && (
          <Width
            key={light.shape}
            shape={light.shape}
            mm={light.wide[light.shape]}
            onMm={(mm) => set({ wide: { ...light.wide, [light.shape]: mm } })}
          />
        )}
        {light.shape === "panel" && (
          <Fields.Check
            type="checkbox"
            id="cards"
            label="Grey and white cards"
            checked={light.cards}
            onChange={(event) => set({ cards: event.target.checked })}
          />
        )}
        {children}
      </div>
      {isOpen && (
        <LightFields
          condition={condition}
          environments={environments}
          onChange={(changed) => set({ changed: { ...light.changed, ...changed } })}
        >
          {isChanged && (
            <Button size="sm" variant="outline-secondary" onClick={() => set({ changed: {} })}>
              As {chosen.name} is
            </Button>
          )}
          {mayMake && (
            <KeepCondition
              key={chosen.id}
              chosen={own.some(({ id }) => id === chosen.id) ? chosen : undefined}
              light={lightOf(condition)}
              onKept={(id) => set({ named: id, changed: {} })}
            />
          )}
        </LightFields>
      )}
    </>
  );
}

const lightOf = ({ name: _, ...light }: Condition): Light => light;

/** A real width, as it is typed. */
function Width({ shape, mm, onMm }: { shape: "block" | "wall"; mm: number; onMm(mm: number): void }) {
  const { unit } = useView();
  const [typed, setTyped] = useState(formatLength(mm, "m"));
  const [trouble, setTrouble] = useState<string>();
  function type(text: string) {
    setTyped(text);
    try {
      const read = parseLength(text, { unit });
      const [least, most] = WIDTHS[shape];
      if (read < least || read > most)
        throw new LengthError(
          text,
          `is no width for a ${shape}; ${formatLength(least, "m")} to ${formatLength(most, "m")} can be shown`,
        );
      onMm(read);
      setTrouble(undefined);
    } catch (error) {
      if (!(error instanceof LengthError)) throw error;
      setTrouble(error.message);
    }
  }
  return (
    <label className="finish-width">
      {shape === "wall" ? "Wall width" : "Block width"}
      <Fields.Control
        size="sm"
        value={typed}
        isInvalid={trouble !== undefined}
        onChange={(event) => type(event.target.value)}
      />
      {trouble && <span className="mark wrong">{trouble}</span>}
    </label>
  );
}

interface LightFieldsProps {
  condition: Condition;
  environments: { sha256: string; name: string }[];
  onChange(changed: Partial<Light>): void;
  children: ReactNode;
}

/** The values of a condition. */
function LightFields({ condition, environments, onChange, children }: LightFieldsProps) {
  const {
    environment,
    environmentTurn,
    lampShare,
    lampAbove,
    lampAround,
    behind,
    exposureStops,
    tone,
    ground,
  } = condition;
  const range = (
    label: string,
    field: keyof Light,
    value: number,
    [min, max, step]: readonly [number, number, number],
  ) => (
    <label>
      {label}
      <Fields.Range
        min={min}
        max={max}
        step={step}
        value={value}
        onChange={(event) => onChange({ [field]: Number(event.target.value) })}
      />
    </label>
  );
  const isGone = !isOwnEnvironment(environment) && !environments.some(({ sha256 }) => sha256 === environment);
  return (
    <div className="finish-conditions" id="finish-light">
      <label>
        Environment
        <Fields.Select
          aria-label="Environment"
          size="sm"
          value={environment}
          onChange={(event) => onChange({ environment: event.target.value })}
        >
          <option value="overcast">overcast sky</option>
          <option value="low-sun">low sun</option>
          {environments.map(({ sha256, name }) => (
            <option key={sha256} value={sha256}>
              {name}
            </option>
          ))}
          {isGone && <option value={environment}>one that left the library</option>}
        </Fields.Select>
      </label>
      {range(`turned ${environmentTurn}°`, "environmentTurn", environmentTurn, [-180, 180, 5])}
      {range(`Lamp ${Math.round(lampShare * 100)} %`, "lampShare", lampShare, [0, 1, 0.05])}
      {range(`Lamp ${lampAbove}° above`, "lampAbove", lampAbove, [3, 90, 1])}
      {range(`from ${lampAround}°`, "lampAround", lampAround, [0, 360, 5])}
      {range(`behind ${behind} ×`, "behind", behind, [0, 4, 0.1])}
      {range(
        `Exposure ${exposureStops > 0 ? "+" : ""}${exposureStops}`,
        "exposureStops",
        exposureStops,
        [-3, 3, 0.25],
      )}
      <label>
        Tone
        <Fields.Select
          aria-label="Tone"
          size="sm"
          value={tone}
          onChange={(event) => onChange({ tone: event.target.value as Condition["tone"] })}
        >
          <option value="none">cut off</option>
          <option value="neutral">neutral curve</option>
        </Fields.Select>
      </label>
      <label>
        Ground
        <Fields.Select
          aria-label="Ground"
          size="sm"
          value={ground}
          onChange={(event) => onChange({ ground: event.target.value as Condition["ground"] })}
        >
          {GROUNDS.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Fields.Select>
      </label>
      {children}
    </div>
  );
}
