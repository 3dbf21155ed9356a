import { useEffect, useState } from "react";
import { Dropdown } from "react-bootstrap";
import { Form, Link, redirect, useFetcher, useNavigate, useSubmit } from "react-router";
import { z } from "zod";
import { SIZE_STATES } from "#core/finish/material";
import { mayDo } from "#server/auth/levels";
import { changeCollectionMembers, createCollectionOf } from "#server/collection/commands";
import { database } from "#server/db/database";
import { countMaterials, listSamples, SAMPLE_SORTS } from "#server/material/queries";
import { pageNumber, pageOf, sliceOf } from "#server/db/page";
import type { Person } from "#server/auth/person";
import { shareWithProject } from "#server/project/commands";
import { createPlain } from "#server/material/commands";
import { badField } from "#server/problem";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { InlineNumber } from "../components/InlineNumber";
import { Pages } from "../components/Pages";
import { Refusal } from "../components/Refusal";
import { SamplePatch } from "../components/SamplePatch";
import { SampleWall, SIDE } from "../components/SampleWall";
import { act, look } from "../guard";
import { fieldsOf, intent, intents, nameField } from "../fieldsOf";
import { refusalOf } from "../refusal";
import { useFresh } from "../view/live";
import { useSelection } from "../view/selection";
import { useTitleBlock } from "../view/titleBlock";
import type { loader as loadChoices } from "./choices";
import type { Route } from "./+types/library";

export const meta: Route.MetaFunction = () => [{ title: "Library – Kalonomy" }];

/** A light reflectance value; what is none does not filter. */
const percent = z
  .string()
  .regex(/\d/)
  .transform(Number)
  .pipe(z.number().min(0).max(100))
  .optional()
  .catch(undefined);

const filterSchema = z.object({
  q: z.string().max(200).default(""),
  size: z.enum(SIZE_STATES).or(z.literal("any")).default("any"),
  from: percent,
  to: percent,
  sort: z.enum(SAMPLE_SORTS).optional().catch(undefined),
  page: pageNumber,
});

export const loader = look(async ({ request, person }: Route.LoaderArgs & { person: Person }) => {
  const read = filterSchema.safeParse(Object.fromEntries(new URL(request.url).searchParams));
  const filter = read.success ? read.data : filterSchema.parse({});
  const db = database();
  const isAll =
    filter.q === "" && filter.size === "any" && filter.from === undefined && filter.to === undefined;
  const [{ items, total, instead }, all] = await Promise.all([
    listSamples(db, {
      q: filter.q,
      sizeState: filter.size === "any" ? undefined : filter.size,
      reflectsFrom: filter.from,
      reflectsTo: filter.to,
      sort: filter.sort,
      ...sliceOf(filter.page),
    }),
    isAll ? undefined : countMaterials(db),
  ]);
  return {
    samples: items,
    total,
    instead,
    sortable: SAMPLE_SORTS.filter((sort) => sort !== "fit"),
    pages: pageOf(filter.page, total),
    all: all ?? total,
    filter,
    mayMake: mayDo(person, "make"),
  };
});

const selected = { material: z.array(z.uuid()).max(5000, "Select 5,000 materials at most.") };
const ACTS = intents(
  intent("plain", {
    name: nameField("the colour"),
    color: z
      .string("Choose a colour.")
      .regex(/^#[0-9a-f]{6}$/i, { error: ({ input }) => `“${String(input)}” is no colour. Write #rrggbb.` }),
    roughness: z.number("Roughness is a number from 0 to 1.").default(0.5),
  }),
  intent("collection", {
    ...selected,
    collection: z.uuid().optional(),
    newName: nameField("the collection").optional(),
  }),
  intent("project", { ...selected, project: z.uuid() }),
);

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const asked = fieldsOf(form, ACTS);
  switch (asked.intent) {
    case "plain": {
      const { name, color, roughness } = asked;
      const made = await createPlain({ name, color, finish: { roughness } }, person);
      return redirect(`/materials/${made.id}/finish`);
    }
    case "collection": {
      const { material: ids, collection, newName } = asked;
      if (newName === undefined && collection === undefined)
        throw badField("/newName", "Choose a collection, or give a new one a name.");
      const id = newName === undefined ? collection! : await createCollectionOf(newName, ids, person);
      if (newName === undefined) await changeCollectionMembers(id, { add: ids, remove: [] });
      return { done: `${ids.length} in the collection.`, to: `/collections/${id}` };
    }
    case "project": {
      const { material: ids, project } = asked;
      await shareWithProject(project, "materials", { add: ids, remove: [] });
      return { done: `${ids.length} in the project.`, to: `/projects/${project}` };
    }
  }
});

export default function Library({ loaderData }: Route.ComponentProps) {
  const { samples, total, instead, sortable, pages, all, filter, mayMake } = loaderData;
  const selection = useSelection();
  const sumAreas = samples
    .filter(({ id, repeat }) => selection.ids.has(id) && repeat)
    .map(({ repeat }) => (repeat!.width * repeat!.height) / 1e6);
  useTitleBlock(
    selection.ids.size === 0
      ? "nothing"
      : `${selection.ids.size} ${selection.ids.size === 1 ? "material" : "materials"}`,
    sumAreas.length > 0 ? `${sumAreas.reduce((a, b) => a + b, 0).toFixed(2)} m² of repeats` : "",
  );
  useFresh((event) => event.topic === "library");

  return (
    <div className="page library">
      <h1 className="visually-hidden">Library</h1>
      <div className="sentence-row">
        <FilterSentence filter={filter} total={total} all={all} sortable={sortable} />
        {mayMake && (
          <div className="acts">
            {filter.size === "unknown" && samples.length > 0 && (
              <Link to={`/materials/${samples[0].id}/gauge`} className="btn btn-outline-secondary btn-sm">
                Gauge one after another
              </Link>
            )}
            <Link to="/intakes" className="btn btn-primary btn-sm">
              Take textures in
            </Link>
            <NewPlain />
          </div>
        )}
      </div>
      {instead.length > 0 && (
        <p role="status" className="dim instead">
          {instead
            .map(({ typed, read }) =>
              read.length > 0
                ? `Nothing here is called “${typed}”: showing ${read.join(", ")}.`
                : `Nothing here is called “${typed}”, nor anything a letter away from it.`,
            )
            .join(" ")}
        </p>
      )}
      {selection.ids.size > 0 && <SelectionActs {...loaderData} />}
      {all === 0 ? (
        <Empty title="The library is empty">
          <p>
            Take in a download first: drop a zip or some images on <Link to="/intakes">Intake</Link>, look at
            what was recognised, and accept it.
          </p>
        </Empty>
      ) : samples.length === 0 ? (
        <Empty title="Nothing fits">
          <p>
            No material has all of these words in its name, code, supplier, line or colours, and such a size
            and light reflectance. <Link to="/library">Show all {all}</Link>.
          </p>
        </Empty>
      ) : (
        <SampleWall label="Materials">
          {samples.map((sample) => (
            <SamplePatch
              key={sample.id}
              sample={sample}
              side={SIDE}
              selected={selection.ids.has(sample.id)}
              onToggle={() => selection.toggle(sample.id)}
            />
          ))}
        </SampleWall>
      )}
      <Pages {...pages} />
    </div>
  );
}

type LibraryData = Route.ComponentProps["loaderData"];

interface PercentProps {
  name: string;
  /** What the sentence says before it. */
  before: string;
  typed: string;
  onType(text: string): void;
  /** What it is where nothing is typed. */
  otherwise: string;
}

/** One end of a range of light reflectance. */
const Percent = ({ name, before, typed, onType, otherwise }: PercentProps) => (
  <InlineNumber
    before={
      <>
        <span className="visually-hidden">Light reflectance{name === "from" && " from"}</span>
        {before}
      </>
    }
    name={name}
    value={typed}
    onChange={(event) => onType(event.target.value)}
    min={0}
    max={100}
    placeholder={otherwise}
  />
);

const textOf = (value: number | undefined) => (value === undefined ? "" : String(value));

const SORT_WORDS = {
  name: "by name",
  newest: "newest first",
  color: "by colour",
  size: "largest repeat first",
};

/** The filter reads as a sentence whose words are the controls. */
function FilterSentence({
  filter,
  total,
  all,
  sortable,
}: {
  filter: LibraryData["filter"];
  total: number;
  all: number;
  sortable: readonly (keyof typeof SORT_WORDS)[];
}) {
  const submit = useSubmit();
  const [q, setQ] = useState(filter.q);
  const [from, setFrom] = useState(textOf(filter.from));
  const [to, setTo] = useState(textOf(filter.to));
  useEffect(() => setQ(filter.q), [filter.q]);
  // Taken away from outside, and not while somebody types it.
  useEffect(() => {
    if (filter.from === undefined && filter.to === undefined) {
      setFrom("");
      setTo("");
    }
  }, [filter.from, filter.to]);
  return (
    <Form
      method="get"
      className="sentence"
      role="search"
      onChange={(event) => void submit(event.currentTarget, { replace: true, preventScrollReset: true })}
    >
      Showing{" "}
      <input
        type="search"
        name="q"
        value={q}
        onChange={(event) => setQ(event.target.value)}
        placeholder="every name and colour"
        aria-label="Words in name, code, supplier, line or colour"
        title="Names, codes, suppliers, lines and colours, in any order: oak, pale grey, warm white"
        size={Math.max(20, q.length)}
      />
      , with{" "}
      <select name="size" defaultValue={filter.size} aria-label="Size">
        <option value="any">any size</option>
        <option value="known">size known</option>
        <option value="assumed">size assumed</option>
        <option value="unknown">size unknown</option>
      </select>
      , reflecting <Percent name="from" before="" typed={from} onType={setFrom} otherwise="0" />{" "}
      <Percent name="to" before=" to" typed={to} onType={setTo} otherwise="100" /> %,{" "}
      <select name="sort" defaultValue={filter.sort ?? ""} aria-label="Order">
        <option value="">in the usual order</option>
        {sortable.map((sort) => (
          <option key={sort} value={sort}>
            {SORT_WORDS[sort]}
          </option>
        ))}
      </select>
      : <strong>{total}</strong> of {all}.
      <noscript>
        <button type="submit">Show</button>
      </noscript>
    </Form>
  );
}

function SelectionActs({ mayMake, samples }: LibraryData) {
  const selection = useSelection();
  const fetcher = useFetcher<typeof action>();
  // Asked for once something is selected: the library's page needs no names of all collections.
  const { data: choices, load } = useFetcher<typeof loadChoices>();
  useEffect(() => void load("/choices"), [load]);
  const { collections, projects } = choices ?? { collections: [], projects: [] };
  const navigate = useNavigate();
  const [newName, setNewName] = useState("");
  const ids = [...selection.ids];
  const send = (fields: Record<string, string>) => {
    const form = new FormData();
    for (const [name, value] of Object.entries(fields)) form.set(name, value);
    for (const id of ids) form.append("material", id);
    void fetcher.submit(form, { method: "post", action: "/library" });
  };
  const done = fetcher.data && !refusalOf(fetcher.data) && "done" in fetcher.data ? fetcher.data : undefined;
  return (
    <div className="selection-acts" role="group" aria-label="With the selected materials">
      <strong>{ids.length} selected</strong>
      {mayMake && (
        <>
          <Button
            size="sm"
            onClick={() =>
              void navigate(`/deliveries/new?${new URLSearchParams(ids.map((id) => ["material", id]))}`)
            }
          >
            Convert
          </Button>
          <Dropdown>
            <Dropdown.Toggle size="sm" variant="outline-secondary">
              Add to collection
            </Dropdown.Toggle>
            <Dropdown.Menu>
              {collections.map(({ id, name }) => (
                <Dropdown.Item
                  key={id}
                  as="button"
                  onClick={() => send({ intent: "collection", collection: id })}
                >
                  {name}
                </Dropdown.Item>
              ))}
              <Dropdown.Divider />
              <form
                className="menu-form"
                onSubmit={(event) => {
                  event.preventDefault();
                  if (newName.trim()) send({ intent: "collection", newName });
                  setNewName("");
                }}
              >
                <input
                  value={newName}
                  onChange={(event) => setNewName(event.target.value)}
                  placeholder="a new collection"
                  aria-label="Name of a new collection"
                />
                <Button size="sm" type="submit">
                  Create
                </Button>
              </form>
            </Dropdown.Menu>
          </Dropdown>
          <Dropdown>
            <Dropdown.Toggle size="sm" variant="outline-secondary" disabled={choices?.projects.length === 0}>
              Give to project
            </Dropdown.Toggle>
            <Dropdown.Menu>
              {projects.map(({ id, name }) => (
                <Dropdown.Item key={id} as="button" onClick={() => send({ intent: "project", project: id })}>
                  {name}
                </Dropdown.Item>
              ))}
            </Dropdown.Menu>
          </Dropdown>
        </>
      )}
      <Button size="sm" variant="link" onClick={() => selection.set(samples.map(({ id }) => id))}>
        Select all shown
      </Button>
      <Button size="sm" variant="link" onClick={() => selection.set([])}>
        Select nothing
      </Button>
      {done && (
        <span role="status">
          {done.done} <Link to={done.to}>Look</Link>
        </span>
      )}
      <Refusal result={fetcher.data} />
    </div>
  );
}

function NewPlain() {
  const fetcher = useFetcher<typeof action>();
  return (
    <Dropdown align="end">
      <Dropdown.Toggle size="sm" variant="outline-secondary">
        New plain colour
      </Dropdown.Toggle>
      <Dropdown.Menu>
        <fetcher.Form method="post" action="/library" className="menu-form tall">
          <input type="hidden" name="intent" value="plain" />
          <label>
            Name <input name="name" required maxLength={200} />
          </label>
          <label>
            Colour <input name="color" type="color" defaultValue="#d8d2c4" />
          </label>
          <label>
            Roughness <input name="roughness" type="number" min={0} max={1} step={0.01} defaultValue={0.5} />
          </label>
          <Button size="sm" type="submit">
            Create
          </Button>
          <Refusal result={fetcher.data} />
        </fetcher.Form>
      </Dropdown.Menu>
    </Dropdown>
  );
}
