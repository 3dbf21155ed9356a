import { useId } from "react";
import { ArrowCounterclockwise } from "react-bootstrap-icons";
import type { FinishField } from "#core/finish/finish";
import { GRADES, type Grade } from "#core/finish/grades";
import { FINISH_VALUES, valueWords } from "#core/finish/valueFacts";
import { troubleOf, typedValue } from "./typedFinish";

interface ClauseProps {
  field: FinishField;
  typed: string;
  /** As it came, before anybody finished it: "" where it had none. */
  received: string;
  /** What that is called: "As received". */
  receivedWords: string;
  /** Surface grades of the studio's own. */
  grades: readonly Grade[];
  onType(text: string, touched?: string): void;
}

/** One value of the specification: its words, and unfolded what sets it. */
export function Clause({ field, typed, received, receivedWords, grades, onType }: ClauseProps) {
  const facts = FINISH_VALUES[field];
  const id = useId();
  const trouble = troubleOf(field, typed);
  const isChanged = typed.trim() !== received;
  return (
    <details className={`clause${isChanged ? " changed" : ""}`} name="clause">
      <summary>
        <span className="clause-name">{facts.name}</span>
        <span className="clause-value">{wordsOf(field, typed, received, trouble)}</span>
      </summary>
      <div className="clause-body">
        <Control
          field={field}
          id={id}
          typed={typed}
          invalid={trouble !== undefined}
          grades={grades}
          onType={onType}
        />
        <p className={trouble ? "mark wrong" : "aside"} id={`${id}-says`}>
          {trouble ?? facts.says}
        </p>
        {isChanged && (
          <button type="button" className="as-received" onClick={() => onType(received)}>
            <ArrowCounterclockwise aria-hidden="true" /> {receivedWords}
            {received && `: ${received}`}
          </button>
        )}
      </div>
    </details>
  );
}

function wordsOf(field: FinishField, typed: string, received: string, trouble: string | undefined): string {
  if (trouble) return `${typed}?`;
  if (typed.trim() !== "") return said(field, typed);
  return received === "" ? "–" : "none";
}

const said = (field: FinishField, typed: string) =>
  valueWords(field, typedValue(field, typed.trim()) as Parameters<typeof valueWords>[1]);

interface ControlProps {
  field: FinishField;
  id: string;
  typed: string;
  invalid: boolean;
  grades: readonly Grade[];
  onType(text: string, touched?: string): void;
}

function Control({ field, id, typed, invalid, grades, onType }: ControlProps) {
  const facts = FINISH_VALUES[field];
  const common = {
    id,
    name: field,
    "aria-label": facts.name,
    "aria-describedby": `${id}-says`,
    "aria-invalid": invalid,
  };
  const type = (event: { target: { value: string } }) => onType(event.target.value, field);
  if (facts.kind === "switch")
    return (
      <select className="form-select" {...common} value={typed === "no" ? "" : typed} onChange={type}>
        <option value="">no</option>
        <option value="yes">yes</option>
      </select>
    );
  if (facts.kind === "choice")
    return (
      <select className="form-select" {...common} value={typed} onChange={type}>
        <option value="">{facts.otherwise}</option>
        {facts.choices
          .filter((choice) => choice !== facts.otherwise)
          .map((choice) => (
            <option key={choice}>{choice}</option>
          ))}
      </select>
    );
  if (facts.kind === "color")
    return (
      <div className="clause-set">
        <input
          type="color"
          aria-label={`${facts.name}, picked`}
          value={/^#[0-9a-f]{6}$/i.test(typed) ? typed.toLowerCase() : (facts.neutral ?? "#888888")}
          onChange={type}
        />
        <input
          type="text"
          className="form-control"
          {...common}
          value={typed}
          placeholder="#rrggbb"
          onChange={type}
        />
      </div>
    );
  if (facts.kind === "text")
    return (
      <>
        <input
          type="text"
          className="form-control"
          {...common}
          value={typed}
          list={`${id}-known`}
          placeholder="honed"
          maxLength={60}
          onChange={type}
        />
        <datalist id={`${id}-known`}>
          {[...grades, ...GRADES].map(({ name, says }) => (
            <option key={name} value={name}>
              {says}
            </option>
          ))}
        </datalist>
      </>
    );
  if (facts.kind === "range")
    return (
      <input
        type="text"
        className="form-control"
        {...common}
        value={typed}
        placeholder="0 to 1"
        onChange={type}
      />
    );
  const [from, to, step] = facts.slider;
  const number = Number(typed.replace(",", "."));
  const shown = typed.trim() === "" || Number.isNaN(number) ? (facts.neutral ?? from) : number;
  return (
    <div className="clause-set">
      <input
        type="range"
        aria-label={`${facts.name}, slider`}
        min={from}
        max={to}
        step={step}
        value={shown}
        onChange={type}
      />
      <input
        type="text"
        inputMode="decimal"
        className="form-control"
        {...common}
        value={typed}
        onChange={type}
      />
      <span className="unit">{facts.unit}</span>
    </div>
  );
}
