import { useState } from "react";
import { Form } from "react-router";
import type { FinishField } from "#core/finish/finish";
import { FINISH_VALUES } from "#core/finish/valueFacts";
import { suggestedSide, type FieldValues, type MergedField } from "#core/finish/mergeFields";
import { wearWords } from "#core/finish/wear";
import { typedWear } from "./typedFinish";
import { Button } from "../components/Button";

/** What the second of two people who save at once is told. */
export interface MeanwhileProps {
  /** The revision that is there now, and who made it. */
  revision: number;
  by: string;
  fields: MergedField[];
  /** All fields as they typed them. */
  mine: FieldValues;
  onTheirs(): void;
}

const wordsOf = (field: string): string => {
  if (field === "normalDirection") return "green of the normal map";
  return field in FINISH_VALUES ? FINISH_VALUES[field as FinishField].name : field;
};

/** Both versions field by field, to be merged, taken over, or kept as a copy: nothing is lost. */
export function Meanwhile({ revision, by, fields, mine, onTheirs }: MeanwhileProps) {
  const [sides, setSides] = useState(() => fields.map(suggestedSide));
  const chosen = Object.fromEntries(fields.map((one, i) => [one.field, one[sides[i]]]));
  const words = (field: string, value: string | number | undefined) => {
    if (value === undefined || value === "") return "–";
    return field === "wear" ? typedWear(String(value)).map(wearWords).join("; ") : String(value);
  };
  return (
    <section className="meanwhile" aria-label="Saved meanwhile">
      <h2>{by} has saved meanwhile</h2>
      <p>
        Nothing of yours is lost, and nothing of theirs is changed. Where you differ, choose; what only one of
        you changed is chosen already.
      </p>
      <table className="ledger">
        <thead>
          <tr>
            <th scope="col">Field</th>
            <th scope="col">Before</th>
            <th scope="col">{by}</th>
            <th scope="col">You</th>
          </tr>
        </thead>
        <tbody>
          {fields.map(({ field, base, theirs, mine: own, changedBy }, i) => (
            <tr key={field}>
              <td>
                {wordsOf(field)}
                {changedBy === "both" && <span className="mark look ms-2">both changed it</span>}
              </td>
              <td className="dim">{words(field, base)}</td>
              {(["theirs", "mine"] as const).map((side) => (
                <td key={side}>
                  <label>
                    <input
                      type="radio"
                      name={`side-${field}`}
                      checked={sides[i] === side}
                      onChange={() => setSides(sides.map((one, k) => (k === i ? side : one)))}
                      aria-label={`${wordsOf(field)}: ${side === "mine" ? "yours" : by}`}
                    />{" "}
                    {words(field, side === "mine" ? own : theirs)}
                  </label>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <div className="acts">
        <Form method="post">
          <Values values={{ ...mine, ...chosen, seen: revision }} />
          <Button type="submit">Save what is chosen</Button>
        </Form>
        <Form method="post">
          <input type="hidden" name="intent" value="copy-mine" />
          <Values values={{ ...mine, name: `${mine.name}, mine` }} />
          <Button type="submit" variant="outline-secondary">
            Keep mine as a copy
          </Button>
        </Form>
        <Button variant="outline-secondary" onClick={onTheirs}>
          Take theirs
        </Button>
      </div>
    </section>
  );
}

const Values = ({ values }: { values: FieldValues }) =>
  Object.entries(values).map(([name, value]) => (
    <input key={name} type="hidden" name={name} value={value ?? ""} />
  ));
