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
  /** The material that others are to be like. */
  like: Named | null;
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
const DAYS: Record<string, string> = {
  "1": "the last day",
  "7": "the last week",
  "31": "the last month",
  "366": "the last year",
};

const named = (list: readonly Named[]) => ({
  options: list.map(({ id }) => id),
  words: (id: string) => list.find((one) => one.id === id)?.name ?? id,
});
const wordsOf = (words: Record<string, string>) => (key: string) => words[key];
/** What is asked for stands in the list even where the studio has it no longer. */
const withChosen = (list: readonly string[], chosen: string | undefined) =>
  chosen === undefined || list.includes(chosen) ? list : [...list, chosen];

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

/** What the sentence can say besides words, family and size. */
export const CLAUSES: readonly Clause[] = [
  {
    offer: "a colour",
    keys: ["color", "within"],
    write: ({ color, within }) => (
      <>
        of the colour{" "}
        <input type="color" name="color" defaultValue={color ?? "#9a7b5c"} aria-label="Colour" />{" "}
        <SentenceChoice
          name="within"
          label="How near to the colour"
          value={within?.toString()}
          any="or near it"
          options={["4", "12"]}
          words={wordsOf({ "4": "or very near it", "12": "or anywhere near it" })}
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
  {
    offer: "a supplier",
    keys: ["supplier"],
    write: ({ supplier }, { suppliers }) => (
      <>
        from{" "}
        <SentenceChoice
          name="supplier"
          label="Supplier"
          value={supplier}
          any="any supplier"
          options={withChosen(suppliers, supplier)}
        />
      </>
    ),
  },
  {
    offer: "a line",
    keys: ["line"],
    write: ({ line }, { lines }) => (
      <>
        of the line{" "}
        <SentenceChoice name="line" label="Line" value={line} any="any" options={withChosen(lines, line)} />
      </>
    ),
  },
  {
    offer: "a tag",
    keys: ["tag"],
    write: ({ tag }, { tags }) => (
      <>
        tagged{" "}
        <SentenceChoice name="tag" label="Tag" value={tag} any="anything" options={withChosen(tags, tag)} />
      </>
    ),
  },
  {
    offer: "slip resistance",
    keys: ["slip"],
    write: ({ slip }) => (
      <>
        slip{" "}
        <SentenceChoice
          name="slip"
          label="Slip class"
          value={slip}
          any="of any class"
          options={SLIP_CLASSES}
          words={(one) => `${one} or more`}
        />
      </>
    ),
  },
  {
    offer: "frost resistance",
    keys: ["frost"],
    write: ({ frost }) => (
      <>
        frost{" "}
        <SentenceChoice
          name="frost"
          label="Frost class"
          value={frost}
          any="of any class"
          options={FROST_CLASSES}
          words={(one) => `${one} or more`}
        />
      </>
    ),
  },
  {
    offer: "reaction to fire",
    keys: ["fire"],
    write: ({ fire }) => (
      <>
        fire{" "}
        <SentenceChoice
          name="fire"
          label="Fire class"
          value={fire}
          any="of any class"
          options={FIRE_CLASSES}
          words={(one) => `${one} or better`}
        />
      </>
    ),
  },
  {
    offer: "a licence",
    keys: ["licence"],
    write: ({ licence }) => (
      <>
        with a licence{" "}
        <SentenceChoice
          name="licence"
          label="Licence"
          value={licence}
          any="or none"
          options={LICENCE_STATES}
          words={wordsOf(LICENCE_WORDS)}
        />
      </>
    ),
  },
  {
    offer: "what is missing",
    keys: ["without"],
    write: ({ without }) => (
      <>
        without{" "}
        <SentenceChoice
          name="without"
          label="What is missing"
          value={without}
          any="anything missing or not"
          options={ABSENCES}
          words={wordsOf(ABSENCE_WORDS)}
        />
      </>
    ),
  },
  {
    offer: "a project",
    keys: ["project"],
    write: ({ project }, { projects }) => (
      <>
        in the project{" "}
        <SentenceChoice
          name="project"
          label="Project"
          value={project}
          any="any or none"
          {...named(projects)}
        />
      </>
    ),
  },
  {
    offer: "a collection",
    keys: ["collection"],
    write: ({ collection }, { collections }) => (
      <>
        in the collection{" "}
        <SentenceChoice
          name="collection"
          label="Collection"
          value={collection}
          any="any or none"
          {...named(collections)}
        />
      </>
    ),
  },
  {
    offer: "who took it in",
    keys: ["by"],
    write: ({ by }, { people }) => (
      <>
        taken in by{" "}
        <SentenceChoice name="by" label="Who took it in" value={by} any="anybody" {...named(people)} />
      </>
    ),
  },
  {
    offer: "when",
    keys: ["days"],
    write: ({ days }) => (
      <>
        taken in during{" "}
        <SentenceChoice
          name="days"
          label="When it was taken in"
          value={days?.toString()}
          any="all time"
          options={Object.keys(DAYS)}
          words={wordsOf(DAYS)}
        />
      </>
    ),
  },
  {
    offer: "the kind",
    keys: ["kind"],
    write: ({ kind }) => (
      <>
        namely{" "}
        <SentenceChoice
          name="kind"
          label="Kind"
          value={kind}
          any="materials and wear layers"
          options={MATERIAL_KINDS}
          words={wordsOf(KIND_WORDS)}
        />
      </>
    ),
  },
];
