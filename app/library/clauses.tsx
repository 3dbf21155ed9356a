import type { ReactNode } from "react";
import { MATERIAL_KINDS } from "#core/finish/material";
import {
  ABSENCES,
  LICENCE_STATES,
  type Absence,
  type LibrarySearch,
  type LicenceState,
} from "#core/library/librarySearch";
import { ROLE_NAMES } from "#core/roles/roles";
import { FIRE_CLASSES, FROST_CLASSES, SLIP_CLASSES } from "#core/supply/catalogue";
import type { SoughtRow } from "#server/sought/sql";
import { InlineNumber } from "../components/InlineNumber";
import { SentenceChoice } from "../components/SentenceChoice";

export interface Named {
  id: string;
  name: string;
}

/** What the clauses offer that the studio has. */
export interface ClauseChoices {
  suppliers: string[];
  lines: string[];
  tags: string[];
  people: Named[];
  collections: Named[];
  projects: Named[];
  /** The newest. */
  intakes: Named[];
  /** The material that others are to be like. */
  like: Named | null;
  /** The picture that they are to be like. */
  likePicture: SoughtRow | null;
}

export interface Clause {
  /** What it says, in the list of what can be added. */
  offer: string;
  keys: readonly (keyof LibrarySearch)[];
  write(search: LibrarySearch, choices: ClauseChoices): ReactNode;
}

const ABSENCE_WORDS: Record<Absence, string> = {
  ...{ family: "a family", supplier: "a supplier", licence: "a licence" },
  specular_roughness: `a ${ROLE_NAMES.specular_roughness} map`,
  geometry_normal: `a ${ROLE_NAMES.geometry_normal} map`,
  height: `a ${ROLE_NAMES.height} map`,
  ambient_occlusion: `an ${ROLE_NAMES.ambient_occlusion} map`,
};
const LICENCE_WORDS: Record<LicenceState, string> = {
  ended: "that ended",
  "one-project": "for one project alone",
  bought: "that was bought",
  free: "that is free",
};
const KIND_WORDS: Record<string, string> = {
  material: "materials alone",
  wear: "wear layers",
  environment: "environments",
};
/** How far from a colour, ΔE2000. */
const NEARNESS: Record<string, string> = { "4": "or very near it", "12": "or anywhere near it" };
const DAYS: Record<string, string> = {
  "1": "the last day",
  "7": "the last week",
  "31": "the last month",
  "366": "the last year",
};

const wordsOf = (words: Record<string, string>) => (key: string) => words[key];
/** What is asked for stands in the list even where the studio has it no longer. */
const withChosen = (list: readonly string[], chosen: string | undefined) =>
  chosen === undefined || list.includes(chosen) ? list : [...list, chosen];

interface ChoiceClause {
  offer: string;
  name: keyof LibrarySearch;
  label: string;
  /** What stands before the choice. */
  before: string;
  any: string;
  options: readonly string[] | ((choices: ClauseChoices) => readonly string[] | readonly Named[]);
  words?(option: string): string;
}

/** A clause that is one choice. */
const choice = ({ offer, name, label, before, any, options, words }: ChoiceClause): Clause => ({
  ...{ offer, keys: [name] },
  write(search, choices) {
    const chosen = search[name]?.toString();
    const list = typeof options === "function" ? options(choices) : options;
    const names = new Map(list.flatMap((one) => (typeof one === "string" ? [] : [[one.id, one.name]])));
    const ids = list.map((one) => (typeof one === "string" ? one : one.id));
    return (
      <>
        {before}{" "}
        <SentenceChoice
          {...{ name, label, any }}
          value={chosen}
          options={withChosen(ids, chosen)}
          words={words ?? ((id) => names.get(id) ?? id)}
        />
      </>
    );
  },
});

const number = (name: keyof LibrarySearch, search: LibrarySearch, label: string, otherwise: string) => (
  <InlineNumber
    before={<span className="visually-hidden">{label}</span>}
    name={name}
    defaultValue={search[name]?.toString() ?? ""}
    min={0}
    step="any"
    placeholder={otherwise}
  />
);

/** What a colour that nobody has picked yet is shown as. */
export const FIRST_COLOR = "#9a7b5c";

/** What the sentence can say besides words, family and size. */
export const CLAUSES: readonly Clause[] = [
  {
    offer: "a colour",
    keys: ["color", "within"],
    write: ({ color, within }) => (
      <>
        of the colour{" "}
        <input type="color" name="color" defaultValue={color ?? FIRST_COLOR} aria-label="Colour" />{" "}
        <SentenceChoice
          name="within"
          label="How near to the colour"
          value={within?.toString()}
          any="or near it"
          options={withChosen(Object.keys(NEARNESS), within?.toString())}
          words={(far) => NEARNESS[far] ?? `or ΔE ${far} from it`}
        />
      </>
    ),
  },
  {
    offer: "light reflectance",
    keys: ["reflectsFrom", "reflectsTo"],
    write: (search) => (
      <>
        reflecting {number("reflectsFrom", search, "Light reflectance from", "0")} to{" "}
        {number("reflectsTo", search, "Light reflectance to", "100")} %
      </>
    ),
  },
  {
    offer: "the repeat",
    keys: ["repeatFrom", "repeatTo"],
    write: (search) => (
      <>
        repeating after {number("repeatFrom", search, "Repeat from, mm", "0")} to{" "}
        {number("repeatTo", search, "Repeat to, mm", "any")} mm
      </>
    ),
  },
  {
    offer: "the module",
    keys: ["moduleWidth", "moduleHeight"],
    write: (search) => (
      <>
        in modules of {number("moduleWidth", search, "Width of the module, mm", "any")} ×{" "}
        {number("moduleHeight", search, "Height of the module, mm", "any")} mm
      </>
    ),
  },
  choice({
    ...{ offer: "a supplier", name: "supplier", label: "Supplier" },
    ...{ before: "from", any: "any supplier", options: ({ suppliers }) => suppliers },
  }),
  choice({
    ...{ offer: "a line", name: "line", label: "Line" },
    ...{ before: "of the line", any: "any", options: ({ lines }) => lines },
  }),
  choice({
    ...{ offer: "a tag", name: "tag", label: "Tag" },
    ...{ before: "tagged", any: "anything", options: ({ tags }) => tags },
  }),
  choice({
    ...{ offer: "slip resistance", name: "slip", label: "Slip class" },
    ...{ before: "slip", any: "of any class", options: SLIP_CLASSES, words: (one) => `${one} or more` },
  }),
  choice({
    ...{ offer: "frost resistance", name: "frost", label: "Frost class" },
    ...{ before: "frost", any: "of any class", options: FROST_CLASSES, words: (one) => `${one} or more` },
  }),
  choice({
    ...{ offer: "reaction to fire", name: "fire", label: "Fire class" },
    ...{ before: "fire", any: "of any class", options: FIRE_CLASSES, words: (one) => `${one} or better` },
  }),
  choice({
    ...{ offer: "a licence", name: "licence", label: "Licence" },
    ...{ before: "with a licence", any: "or none", options: LICENCE_STATES, words: wordsOf(LICENCE_WORDS) },
  }),
  choice({
    ...{ offer: "what is missing", name: "without", label: "What is missing", before: "without" },
    ...{ any: "anything missing or not", options: ABSENCES, words: wordsOf(ABSENCE_WORDS) },
  }),
  choice({
    ...{ offer: "a project", name: "project", label: "Project" },
    ...{ before: "in the project", any: "any or none", options: ({ projects }) => projects },
  }),
  choice({
    ...{ offer: "a collection", name: "collection", label: "Collection" },
    ...{ before: "in the collection", any: "any or none", options: ({ collections }) => collections },
  }),
  choice({
    ...{ offer: "an intake", name: "intake", label: "Intake" },
    ...{ before: "taken in with", any: "anything", options: ({ intakes }) => intakes },
  }),
  choice({
    ...{ offer: "who took it in", name: "by", label: "Who took it in" },
    ...{ before: "taken in by", any: "anybody", options: ({ people }) => people },
  }),
  choice({
    ...{ offer: "when", name: "days", label: "When it was taken in" },
    ...{ before: "taken in during", any: "all time", options: Object.keys(DAYS) },
    words: (days) => DAYS[days] ?? `the last ${days} days`,
  }),
  choice({
    ...{ offer: "the kind", name: "kind", label: "Kind", before: "namely" },
    ...{ any: "materials and wear layers", options: MATERIAL_KINDS, words: wordsOf(KIND_WORDS) },
  }),
];
