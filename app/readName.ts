import { badField } from "#server/problem";

/** The longest name of anything. */
const MOST = 200;

/**
 * A name out of a form, without the spaces around it.
 * @param what is named, as it is said to people: “the collection”
 * @throws {Problem} naming the field, where it is empty or too long
 */
export function readName(form: FormData, what: string, field = "name"): string {
  const name = String(form.get(field) ?? "").trim();
  if (name === "" || name.length > MOST)
    throw badField(`/${field}`, `Give ${what} a name of 1 to ${MOST} characters.`);
  return name;
}
