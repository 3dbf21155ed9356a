import { z } from "zod";
import { finishChangeSchema, type FinishChange } from "#core/finish/finish";
import { FINISH_FIELDS } from "#core/finish/valueFacts";
import type { FinishFields } from "#core/finish/finishValues";
import { badField } from "#server/problem";
import { fieldsOf, nameField } from "../fieldsOf";
import { troubleOf, typedValue } from "./typedFinish";

/** The values of the form: what is not there stays, what is empty is taken away where it can be. @throws {Problem} naming the field */
export function readValues(form: FormData): FinishChange {
  const fields: Record<string, unknown> = {};
  for (const field of FINISH_FIELDS) {
    if (!form.has(field)) continue;
    const typed = String(form.get(field)).trim();
    const trouble = troubleOf(field, typed);
    if (typed === "") {
      // Of those that every finish has, an empty one is no answer, and stays.
      if (trouble === undefined) fields[field] = null;
    } else if (trouble !== undefined) throw badField(`/${field}`, trouble);
    else fields[field] = typedValue(field, typed);
  }
  return finishChangeSchema.parse(fields);
}

/** The whole form of the finish. @throws {Problem} naming the field */
export function readFinish(form: FormData): FinishFields & { name: string } {
  const finish = readValues(form);
  const direction = form.get("normalDirection");
  return {
    name: fieldsOf(form, z.object({ name: nameField("the material") })).name,
    finish,
    ...((direction === "+Y" || direction === "-Y") && { normalDirection: direction }),
  };
}
