import {
  finishChangeSchema,
  finishSchema,
  type Finish,
  type FinishChange,
  type FinishField,
} from "#core/finish/finish";
import { GRADES, gradeChange, type Grade } from "#core/finish/grades";
import { FINISH_FIELDS, FINISH_VALUES, valueWords } from "#core/finish/valueFacts";
import type { WearLayer } from "#core/finish/wear";
import type { Role } from "#core/roles/roles";

/** The values of a finish as they are typed; "" where there is none. Wear is the text of its layers as JSON. */
export type FinishTexts = Record<FinishField | "wear", string>;

/** As people write it: a decimal comma, "0.2 to 0.9", "yes". What cannot be read stays a text, and is refused as one. */
export function typedValue(field: FinishField, typed: string): unknown {
  const number = (text: string) => {
    const value = Number(text.trim().replace(",", "."));
    return text.trim() === "" || Number.isNaN(value) ? text : value;
  };
  switch (FINISH_VALUES[field].kind) {
    case "number":
      return number(typed);
    case "range":
      return typed.split(/\s+(?:to\s+)?/).map(number);
    case "switch":
      return typed === "yes" ? true : typed === "no" ? false : typed;
    default:
      return typed;
  }
}

/** Why a value cannot be saved; undefined where it can. */
export function troubleOf(field: FinishField, typed: string): string | undefined {
  const text = typed.trim();
  const read = finishChangeSchema.safeParse({ [field]: text === "" ? null : typedValue(field, text) });
  if (read.success) return undefined;
  const facts = FINISH_VALUES[field];
  if (text === "") return `${facts.name} cannot be left empty.`;
  return `“${text}” is no ${facts.name}. ${hintOf(read.error.issues[0])}`;
}

/** What would do, in plain words. */
function hintOf(issue: { code: string; minimum?: unknown; maximum?: unknown; message: string }): string {
  if (issue.code === "too_small") return `The least is ${String(issue.minimum)}.`;
  if (issue.code === "too_big") return `The most is ${String(issue.maximum)}.`;
  if (issue.code === "custom" || issue.code === "invalid_format") return issue.message;
  return "Type a value like the ones that the slider gives.";
}

/** What is typed for a finish, as its form begins. */
export function textsOf(finish: Finish): FinishTexts {
  const text = (field: FinishField) => {
    const value = finish[field];
    if (value === undefined) return "";
    return typeof value === "number" ? String(value) : valueWords(field, value);
  };
  const values = Object.fromEntries(FINISH_FIELDS.map((field) => [field, text(field)]));
  return { ...values, wear: wearText(finish.wear ?? []) } as FinishTexts;
}

export const wearText = (layers: readonly WearLayer[]): string =>
  layers.length === 0 ? "" : JSON.stringify(layers);

/** The layers of such a text. @throws {SyntaxError} where it is none */
export const typedWear = (text: string): WearLayer[] =>
  text === "" ? [] : (JSON.parse(text) as WearLayer[]);

/** The finish that is typed; what cannot be read yet stays as it was saved. */
export function typedFinish(saved: Finish, texts: FinishTexts): Finish {
  const values: Record<string, unknown> = {};
  for (const field of FINISH_FIELDS) {
    const text = texts[field].trim();
    const value =
      troubleOf(field, text) === undefined
        ? text === ""
          ? undefined
          : typedValue(field, text)
        : saved[field];
    if (value !== undefined) values[field] = value;
  }
  const wear = finishChangeSchema.shape.wear.safeParse(typedWear(texts.wear)).data ?? saved.wear;
  return finishSchema.parse({ ...values, ...(wear?.length && { wear }) });
}

/** What is typed with a grade: one that is known sets what it means, all at once. */
export function gradeTexts(
  text: string,
  received: Finish,
  maps: readonly { role: Role }[],
  own: readonly Grade[],
): Partial<FinishTexts> {
  const grade = [...own, ...GRADES].find(({ name }) => name === text.trim());
  return grade ? changeTexts(gradeChange(grade, received, maps)) : { grade: text };
}

/** A change as it would be typed. */
export function changeTexts(change: FinishChange): Partial<FinishTexts> {
  const typed = Object.entries(change).map(([field, value]) => [
    field,
    value === null || value === undefined
      ? ""
      : typeof value === "boolean"
        ? valueWords(field as FinishField, value)
        : String(value),
  ]);
  return Object.fromEntries(typed) as Partial<FinishTexts>;
}
