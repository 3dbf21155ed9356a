import { z } from "zod";
import { finishChangeSchema } from "#core/finish/finish";
import { FINISH_NUMBERS, type FinishFields } from "#core/finish/finishValues";
import { badField } from "#server/problem";
import { fieldsOf, nameField } from "../fieldsOf";

/** Reads the form of the finish. @throws {Problem} naming the field that does not fit */
export function readFinish(form: FormData): FinishFields & { name: string } {
  const fields: Record<string, unknown> = {};
  for (const field of FINISH_NUMBERS) {
    const typed = String(form.get(field) ?? "").trim();
    if (typed !== "") fields[field] = Number(typed.replace(",", "."));
    // The one value that can be taken away again: then it is assumed.
    else if (field === "heightAmplitudeMm" && form.has(field)) fields[field] = null;
  }
  const color = form.get("color");
  if (color) fields.color = String(color);
  const finish = finishChangeSchema.safeParse(fields);
  if (!finish.success) {
    const [issue] = finish.error.issues;
    throw badField(`/${issue.path.join("/")}`, `${issue.path.join(" ")}: ${issue.message}`);
  }
  const direction = form.get("normalDirection");
  return {
    name: fieldsOf(form, z.object({ name: nameField("the material") })).name,
    finish: finish.data,
    ...((direction === "+Y" || direction === "-Y") && { normalDirection: direction }),
  };
}
