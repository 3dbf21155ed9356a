/** What a name can be made of. */
export interface NameFields {
  /** The name that was read from the files. */
  name: string;
  supplier?: string;
  product?: string;
  /** What the material mostly is: the first word of its collection or folder. */
  family?: string;
  /** Running number among the materials of an intake, from 1. */
  number: number;
}

const FIELDS = ["family", "supplier", "product", "name"] as const;

export const DEFAULT_NAME_RULE = "Name";

/**
 * Names a material after a rule that is written as one name would look: the words family, supplier, product and name
 * stand for what they say, digits for the running number with as many digits, everything else for itself. A word in
 * capitals gives capitals, one with a capital letter starts with one, one in small letters is left small. A field without
 * a value is dropped with the punctuation before it.
 * "Family name, supplier 001" gives "Brick winter stock, Harrow & Quill 014".
 */
export function nameByRule(rule: string, fields: NameFields): string {
  const parts = rule.matchAll(/(\p{L}+|\d+|[^\p{L}\d]+)/gu);
  let out = "";
  let gap = "";
  let dropped = false;
  for (const [part] of parts) {
    if (/^[^\p{L}\d]/u.test(part)) {
      gap += !dropped ? part : out === "" ? "" : part.replace(/^[)\]}”"']+/, "");
      dropped = false;
      continue;
    }
    const value = valueOf(part, fields);
    dropped = value === "";
    if (!dropped) out += out === "" ? gap.trimStart() + value : gap + value;
    gap = "";
  }
  const closing = /^[)\]}”"']+$/.test(gap.trim()) ? gap.trim() : "";
  return (out + closing).trim().slice(0, 200) || fields.name;
}

function valueOf(part: string, fields: NameFields): string {
  const field = FIELDS.find((one) => one === part.toLowerCase());
  if (field) return cased(fields[field]?.trim() ?? "", part);
  return /^\d+$/.test(part) ? String(fields.number).padStart(part.length, "0") : part;
}

/** What is wrong with a rule, in words; undefined where it can be used. */
export function ruleProblem(rule: string): string | undefined {
  if (rule.trim() === "") return "Write a rule, for example “Family name 001”.";
  if (rule.length > 120) return "A rule has 120 characters at most.";
  const words: string[] = rule.toLowerCase().match(/\p{L}+|\d+/gu) ?? [];
  if (!words.includes("name") && !words.includes("product") && !words.some((word) => /^\d+$/.test(word)))
    return "Use “name”, “product” or digits for a running number: otherwise all materials have one name.";
  return undefined;
}

function cased(value: string, like: string): string {
  if (like.length > 1 && like === like.toUpperCase()) return value.toUpperCase();
  if (like[0] === like[0].toUpperCase()) return value.charAt(0).toUpperCase() + value.slice(1);
  return value === value.toUpperCase() ? value : value.charAt(0).toLowerCase() + value.slice(1);
}
