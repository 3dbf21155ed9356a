import type { ListedEntry } from "#core/colorList/readList";
import type { Family } from "#core/finish/family";
import { DEFAULT_FINISH } from "#core/finish/finish";

/** What a material of a line has of what a list says. */
export interface ColorNow {
  name: string;
  color: string | null;
  roughness: number;
  page: string | null;
  family: Family | null;
  variant: Record<string, string>;
}

/** What a list makes of a material that is there: fields with their new values, and in words; what people changed here stays. */
export interface ListedChange {
  set: Partial<ColorNow>;
  said: string[];
  kept: string[];
}

/** In what a colour differs from the others of its line, as far as its row says so. */
const differences = (entry: ListedEntry): Record<string, string> => {
  const name = nameIn(entry);
  const { sheen, group } = entry;
  return { ...(name !== null && { colour: name }), ...(sheen && { sheen }), ...(group && { group }) };
};

/** The same of a new one: it is called by its code where it has no name. */
export const variantOf = (entry: ListedEntry): Record<string, string> => ({
  colour: entry.name,
  ...differences(entry),
});

/** Null where the list has no name for it, and its code stands for that. */
const nameIn = ({ name, code }: ListedEntry) => (name === code ? null : name);

/**
 * Compares three states: as it is, as a list said it before (undefined where none did), and as this one says it. What the list says anew
 * is taken unless somebody has changed the same here.
 */
export function listedChanges(
  now: ColorNow,
  before: ListedEntry | undefined,
  entry: ListedEntry,
): ListedChange {
  const change: ListedChange = { set: {}, said: [], kept: [] };
  const then = before && statedBy(before);
  const next = statedBy(entry);
  for (const field of ["name", "color", "roughness", "page", "family"] as const) {
    const [is, says] = [now[field], next[field]];
    const was = then?.[field] ?? (field === "name" ? (before?.name ?? null) : UNSAID[field]);
    // What it says nothing of, and what it said before, it does not say anew.
    if (says === null || isSame(says, is) || (then && isSame(says, then[field]))) continue;
    // Of a material that came otherwise, the list knows best.
    if (then && !isSame(is, was))
      change.kept.push(`${WORDS[field]} was changed here (${words(is)}; the list has ${words(says)})`);
    else {
      Object.assign(change.set, { [field]: says });
      change.said.push(`${WORDS[field]} ${words(is)} → ${words(says)}`);
    }
  }
  const variant = { ...now.variant, ...differences(entry) };
  if (!isSameVariant(variant, now.variant)) {
    change.set.variant = variant;
    if (change.said.length === 0) change.said.push("how it differs from its line");
  }
  return change;
}

/** Whether two differ from their line in the same. */
export const isSameVariant = (one: ColorNow["variant"], other: ColorNow["variant"]): boolean =>
  JSON.stringify(sorted(one)) === JSON.stringify(sorted(other));

const sorted = (variant: Record<string, string>) =>
  Object.entries(variant).sort(([a], [b]) => a.localeCompare(b));

const WORDS = { name: "name", color: "colour", roughness: "roughness", page: "page", family: "family" };

const words = (value: unknown) => (value === null || value === undefined ? "none" : String(value));

const isSame = (one: unknown, other: unknown) =>
  typeof one === "number" && typeof other === "number"
    ? Math.abs(one - other) < 1e-6
    : (one ?? null) === (other ?? null);

/** What a material has of what no list has said anything of. */
const UNSAID = { color: null, roughness: DEFAULT_FINISH.roughness, page: null, family: null };

const statedBy = (entry: ListedEntry) => ({
  name: nameIn(entry),
  color: entry.hex,
  roughness: entry.roughness,
  page: entry.page,
  family: entry.family,
});
