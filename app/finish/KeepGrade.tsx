import { Form as Fields } from "react-bootstrap";
import { useState } from "react";
import { useFetcher } from "react-router";
import type { Finish } from "#core/finish/finish";
import { gradeOf, type Grade } from "#core/finish/grades";
import { FAMILIES } from "#core/finish/family";
import type { GradeRow } from "#server/grade/sql";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";

/** The studio's own surface grades: what is set now can become one. */
export function KeepGrade({ finish, grades }: { finish: Finish; grades: readonly GradeRow[] }) {
  const keep = useFetcher<{ kept?: string }>();
  const remove = useFetcher();
  const [name, setName] = useState("");
  const [family, setFamily] = useState<Grade["family"]>("stone");
  const grade = gradeOf(finish, { name, family, says: "" });
  return (
    <section className="finish-more">
      <h2>The studio’s own grades</h2>
      {grades.length > 0 && (
        <ul className="own-grades">
          {grades.map(({ id, name: own, family: of, ...values }) => (
            <li key={id}>
              <span>
                {own}{" "}
                <span className="dim">
                  ({of}: {gradeWords(values)})
                </span>
              </span>
              <remove.Form method="post">
                <input type="hidden" name="id" value={id} />
                <Button
                  type="submit"
                  size="sm"
                  variant="outline-secondary"
                  name="intent"
                  value="delete-grade"
                  aria-label={`Delete the grade ${own}`}
                >
                  Delete
                </Button>
              </remove.Form>
            </li>
          ))}
        </ul>
      )}
      <keep.Form method="post" className="own-grade" aria-label="A new grade">
        <input type="hidden" name="grade" value={JSON.stringify(grade)} />
        <Fields.Control
          size="sm"
          aria-label="Name of the grade"
          value={name}
          maxLength={60}
          placeholder="hand-honed"
          required
          onChange={(event) => setName(event.target.value)}
        />
        <Fields.Select
          size="sm"
          aria-label="Family of the grade"
          value={family}
          onChange={(event) => setFamily(event.target.value as Grade["family"])}
        >
          {FAMILIES.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Fields.Select>
        <Button type="submit" size="sm" variant="outline-secondary" name="intent" value="create-grade">
          Create grade
        </Button>
      </keep.Form>
      <p className="aside">It keeps how this surface is set now: {gradeWords(grade)}.</p>
      <Refusal result={keep.data} />
      <Refusal result={remove.data} />
    </section>
  );
}

/** What a grade sets, in a line. */
function gradeWords({ roughness, scale, shift, normalStrength, ior, coat }: Partial<Grade>): string {
  return [
    scale === undefined && shift === undefined
      ? `roughness ${roughness}`
      : `roughness × ${scale ?? 1}${shift ? ` ${shift > 0 ? "+" : "−"} ${Math.abs(shift)}` : ""}`,
    ...(normalStrength === undefined ? [] : [`normal strength ${normalStrength}`]),
    ...(ior === undefined ? [] : [`index of refraction ${ior}`]),
    ...(coat ? [`coat ${coat.weight}`] : []),
  ].join(", ");
}
