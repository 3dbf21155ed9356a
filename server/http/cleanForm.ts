import { LONGEST_TEXT, plainLine, plainText } from "#core/text/plainText";

/** A form whose names and texts have passed the gate; files have no place in it. */
export function cleanForm(form: FormData): FormData {
  const clean = new FormData();
  for (const [name, value] of form)
    if (typeof value === "string") clean.append(plainLine(name), plainText(value, LONGEST_FIELD));
  return clean;
}

/** Hidden fields hold whole lists. */
const LONGEST_FIELD = 50 * LONGEST_TEXT;
