import { useMemo, useState } from "react";
import { FAMILIES } from "#core/finish/family";
import { DEFAULT_NAME_RULE } from "#core/library/nameRule";
import type { Asked } from "#server/change/asked";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { ChangeStatus } from "./ChangeStatus";
import { PlanWords } from "./PlanWords";
import { usePlanned } from "./usePlanned";

export interface ManyChoices {
  suppliers: string[];
  tags: string[];
  licences: { id: string; name: string }[];
  nameRule: string | null;
  /** Surface grades, by the family that they are of. */
  grades: { name: string; family: string }[];
  collections: { id: string; name: string }[];
}

/** What can be changed for many at once, in the order of how often it is. */
export const MANY = {
  family: "Family",
  addTags: "Add tags",
  removeTags: "Take tags away",
  supplier: "Supplier",
  licence: "Licence",
  name: "Names",
  grade: "Grade",
  place: "Move between collections",
  delete: "Take out of the library",
} as const;
export type ManyKind = keyof typeof MANY;

interface ChangeManyProps {
  ids: string[];
  what: ManyKind;
  choices: ManyChoices;
  /** @param isDone it was begun, and not given up before */
  onClose(isDone: boolean): void;
}

/** Changes one thing of many materials: what each would become stands there before it is done. */
export function ChangeMany({ ids, what, choices, onClose }: ChangeManyProps) {
  const [value, setValue] = useState(what === "name" ? (choices.nameRule ?? DEFAULT_NAME_RULE) : "");
  const asked = useMemo(() => askedOf(what, value, ids), [what, value, ids]);
  const { plan, answer, isWorkedOut, start, started, starting } = usePlanned(asked);
  if (started)
    return (
      <>
        <ChangeStatus id={started} />
        <Button size="sm" variant="link" onClick={() => onClose(true)}>
          Close
        </Button>
      </>
    );
  return (
    <form
      className="change-many"
      aria-label={MANY[what]}
      onSubmit={(event) => {
        event.preventDefault();
        start();
      }}
    >
      <div className="change-field">
        <ValueField what={what} value={value} onValue={setValue} choices={choices} />
        <Button
          size="sm"
          type="submit"
          variant={what === "delete" ? "danger" : "primary"}
          disabled={asked === undefined || starting.state !== "idle"}
          title={asked === undefined ? "Say first what it is to be." : undefined}
        >
          {what === "delete" ? `Take ${ids.length} out` : `Change ${ids.length}`}
        </Button>
        <Button size="sm" variant="link" onClick={() => onClose(false)}>
          Cancel
        </Button>
      </div>
      {plan && <PlanWords {...plan} />}
      {asked !== undefined && !isWorkedOut && (
        <p className="change-plan dim" role="status">
          Working out what it would do…
        </p>
      )}
      <Refusal result={answer} />
      <Refusal result={starting.data} />
    </form>
  );
}

const NONE = "none";
/** Between the collection that they leave and the one that they come into. */
const TO = ">";

function ValueField({
  what,
  value,
  onValue,
  choices,
}: {
  what: ManyKind;
  value: string;
  onValue(value: string): void;
  choices: ManyChoices;
}) {
  const list = (label: string, options: readonly { id: string; name: string }[], hasNone = true) => (
    <label>
      {MANY[what]}{" "}
      <select value={value} aria-label={label} onChange={(event) => onValue(event.target.value)} autoFocus>
        <option value="">choose…</option>
        {options.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
        {hasNone && <option value={NONE}>none</option>}
      </select>
    </label>
  );
  const text = (label: string, options: string[], placeholder: string) => (
    <label>
      {MANY[what]}{" "}
      <input
        value={value}
        aria-label={label}
        placeholder={placeholder}
        list={options.length > 0 ? "change-options" : undefined}
        maxLength={400}
        onChange={(event) => onValue(event.target.value)}
        autoFocus
      />
      <datalist id="change-options">
        {options.map((option) => (
          <option key={option} value={option} />
        ))}
      </datalist>
    </label>
  );
  switch (what) {
    case "family":
      return list(
        "New family",
        FAMILIES.map((id) => ({ id, name: id })),
      );
    case "licence":
      return list("New licence", choices.licences);
    case "supplier":
      return text("New supplier", choices.suppliers, "its name");
    case "addTags":
    case "removeTags":
      return text("Tags", choices.tags, "wet, north side");
    case "name":
      return text("Rule for the names", [], "Family name 001");
    case "grade":
      return list(
        "New grade",
        choices.grades.map(({ name, family }) => ({ id: name, name: `${family}: ${name}` })),
        false,
      );
    case "place":
      return <PlaceField value={value} onValue={onValue} collections={choices.collections} />;
    case "delete":
      return (
        <span>
          They leave the library, and the projects that have them; what was delivered stays. It can be undone.
        </span>
      );
  }
}

/** From one collection to another one, or only out of one, or only into one. */
function PlaceField({
  value,
  onValue,
  collections,
}: {
  value: string;
  onValue(value: string): void;
  collections: ManyChoices["collections"];
}) {
  const [outOf = "", into = ""] = value.split(TO);
  const choice = (label: string, chosen: string, nothing: string, onChoose: (id: string) => void) => (
    <label>
      {label}{" "}
      <select value={chosen} onChange={(event) => onChoose(event.target.value)}>
        <option value="">{nothing}</option>
        {collections.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
  return (
    <>
      {choice("Out of", outOf, "no collection", (id) => onValue(`${id}${TO}${into}`))}
      {choice("into", into, "no collection", (id) => onValue(`${outOf}${TO}${id}`))}
    </>
  );
}

/** What is asked for, as far as it is said. */
function askedOf(what: ManyKind, value: string, materials: string[]): Asked | undefined {
  const text = value.trim();
  if (materials.length === 0) return undefined;
  if (what === "delete") return { kind: "delete", materials };
  if (text === "") return undefined;
  if (what === "name") return { kind: "name", materials, rule: text };
  if (what === "grade") return { kind: "grade", materials, grade: text };
  if (what === "place") {
    const [outOf, into] = text.split(TO);
    if (outOf === into) return undefined;
    return { kind: "place", materials, ...(outOf && { outOf }), ...(into && { into }) };
  }
  return { kind: "facts", materials, facts: factsOf(what, text) };
}

function factsOf(what: Exclude<ManyKind, "name" | "grade" | "place" | "delete">, text: string) {
  const tags = () =>
    text
      .split(",")
      .map((tag) => tag.trim())
      .filter(Boolean);
  switch (what) {
    case "family":
      return { family: FAMILIES.find((family) => family === text) ?? null };
    case "licence":
      return { licence: text === NONE ? null : { id: text } };
    case "supplier":
      return { supplier: text };
    case "addTags":
      return { addTags: tags() };
    case "removeTags":
      return { removeTags: tags() };
  }
}
