import { z } from "zod";
import { roleFromWord } from "#core/roles/roles";
import { ON_CLASH } from "#server/intake/queries";
import { badField } from "#server/problem";
import type { AcceptOptions, Choice, ChosenRole } from "#server/intake/accept";

/** The name, roles, direction and the rest that a person has set in a candidate's row. */
function readChoice(candidate: string, form: FormData): Choice {
  const roles: Record<string, ChosenRole> = {};
  for (const [field, value] of form) {
    const [owner, kind, ...file] = field.split("/");
    if (owner !== candidate || kind !== "role") continue;
    const role = value === "leave-out" ? "leave-out" : roleFromWord(String(value));
    if (role) roles[file.join("/")] = role;
  }
  const direction = form.get(`${candidate}/direction`);
  const name = form.get(`${candidate}/name`);
  const read = form.get(`${candidate}/name-read`);
  const onClash = ON_CLASH.find((choice) => choice === form.get(`${candidate}/clash`));
  return {
    id: candidate,
    roles,
    // A name that was not touched may still be made by a rule.
    ...(typeof name === "string" && name !== read && { name }),
    ...((direction === "+Y" || direction === "-Y") && { normalDirection: direction }),
    ...(onClash && { onClash }),
    ...(form.get(`${candidate}/licence`) === "on" && { licence: true }),
  };
}

/** The candidates to accept: one, those that are shown, or with these all the others that wait. */
export function readChoices(form: FormData, waiting: string[]): Choice[] {
  const only = form.get("only");
  if (only) return [readChoice(z.uuid().parse(only), form)];
  const shown = z.array(z.uuid()).parse(form.getAll("candidate"));
  const rest = form.get("what") === "all" ? waiting.filter((id) => !shown.includes(id)) : [];
  return [...shown.map((id) => readChoice(id, form)), ...rest.map((id) => ({ id }))];
}

const LONGEST_NAME = 200;

/** Collections and names for what is accepted together. */
export function readAcceptOptions(form: FormData): AcceptOptions {
  const rule = form.get("nameRule");
  const level = Number(form.get("level") ?? 0);
  const into = String(form.get("into") ?? "").trim();
  if (into.length > LONGEST_NAME)
    throw badField("/into", `The name of a collection has ${LONGEST_NAME} characters at most.`);
  return {
    ...(into !== "" && { into }),
    ...(form.get("useRule") === "on" &&
      typeof rule === "string" && {
        nameRule: rule,
        keepRule: form.get("keepRule") === "on",
      }),
    ...(form.get("useFolders") === "on" &&
      level > 0 && {
        collections: { level, thin: Math.max(1, Number(form.get("thin") ?? 1)) },
      }),
  };
}
