import { LONGEST_TEXT, plainJson, plainLine, plainText } from "#core/text/plainText";
import { badField } from "#server/problem";

/** A form whose names and texts have passed the gate; files have no place in it. */
export function cleanForm(form: FormData): FormData {
  const clean = new FormData();
  for (const [name, value] of form)
    if (typeof value === "string") clean.append(plainLine(name), plainText(value, LONGEST_FIELD));
  return clean;
}

/** Hidden fields hold whole lists. */
const LONGEST_FIELD = 50 * LONGEST_TEXT;

/** What a field carries as JSON: escapes in it may say what the gate takes out of texts. @throws {Problem} where it is none */
export function jsonField(text: string): unknown {
  try {
    return plainJson(JSON.parse(text));
  } catch {
    throw badField("/asked", "What was sent cannot be read. Load the page again and repeat it.");
  }
}
