import { useEffect, useState } from "react";
import { Dropdown } from "react-bootstrap";
import { Link, redirect, useFetcher } from "react-router";
import { z } from "zod";
import { readLibrarySearch, searchParams, type LibrarySearch } from "#core/library/librarySearch";
import { relaxedSearches } from "#core/library/relaxedSearches";
import { mayDo } from "#server/auth/levels";
import { changeCollectionMembers, createCollectionOf } from "#server/collection/commands";
import { createFilledCollection } from "#server/collection/filling";
import { database } from "#server/db/database";
import { searchChoices } from "../library/searchChoices";
import { countMaterials } from "#server/material/queries";
import { listHues } from "#server/material/hues";
import { listSamples } from "#server/material/samples";
import { deleteSearch, saveSearch } from "#server/search/commands";
import { listSearches } from "#server/search/queries";
import { PAGE_ROWS, pageNumber, pageOf, sliceOf } from "#server/db/page";
import type { Person } from "#server/auth/person";
import { shareWithProject } from "#server/project/commands";
import { createPlain } from "#server/material/commands";
import { manyRecipe, MOST_MENDS, startMends } from "#server/mending/many";
import { badField } from "#server/problem";
import { startRemake } from "#server/remake/remake";
import { keepSelection } from "#server/selection/sql";
import { Button } from "../components/Button";
import { ChangeMany, MANY, type ManyKind } from "../change/ChangeMany";
import { Empty } from "../components/Empty";
import { Pages } from "../components/Pages";
import { Refusal } from "../components/Refusal";
import { act, look } from "../guard";
import { DropPicture } from "../library/DropPicture";
import { EndlessWall } from "../library/EndlessWall";
import { HueChart } from "../library/HueChart";
import { PlaceByDrag } from "../library/PlaceByDrag";
import { SavedSearches } from "../library/SavedSearches";
import { SearchSentence } from "../library/SearchSentence";
import { useWallPages } from "../library/useWallPages";
import { fieldsOf, intent, intents, nameField } from "../fieldsOf";
import { refusalOf } from "../refusal";
import { useCatchUp, useFresh } from "../view/live";
import { useSelection } from "../view/selection";
import { useTitleBlock } from "../view/titleBlock";
import type { loader as loadChoices } from "./choices";
import type { loader as loadAll } from "./libraryAll";
import type { Route } from "./+types/library";

export const meta: Route.MetaFunction = () => [{ title: "Library – Kalonomy" }];

export const loader = look(async ({ request, person }: Route.LoaderArgs & { person: Person }) => {
  const { searchParams: params } = new URL(request.url);
  const search = readLibrarySearch(params);
  const page = pageNumber.catch(1).parse(params.get("page") ?? undefined);
  const db = database();
  const [{ items, total, instead }, counted, choices, saved] = await Promise.all([
    listSamples(db, { ...search, ...sliceOf(page) }),
    // Where nothing is searched for, what is found is all.
    isSaid(search) ? countMaterials(db) : undefined,
    searchChoices(db, search),
    listSearches(db),
  ]);
  const hues = search.sort === "color" && search.color === undefined ? await listHues(db, search) : [];
  // Where nothing fits, what would, if one part of it were left out.
  const relaxed = total > 0 ? [] : relaxedSearches(search);
  const fitting = await Promise.all(
    relaxed.map(async ({ words, search: less }) => ({
      ...{ words, params: new URLSearchParams(searchParams(less)).toString() },
      total: (await listSamples(db, { ...less, limit: 0 })).total,
    })),
  );
  return {
    without: fitting.filter((one) => one.total > 0).toSorted((a, b) => a.total - b.total),
    ...{ samples: items, total, all: counted ?? total, instead, search, choices, hues },
    pages: pageOf(page, total),
    pageRows: PAGE_ROWS,
    saved: saved.map(({ id, name, search: kept }) => ({
      ...{ id, name },
      params: new URLSearchParams(searchParams(kept)).toString(),
    })),
    mayMake: mayDo(person, "make"),
    mayKeep: mayDo(person, "keep"),
  };
});

const isSaid = ({ sort: _, ...search }: LibrarySearch) => searchParams(search).length > 0;

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
  intent("convert", selected),
  intent("remake", selected),
  intent("judge", selected),
  intent("mend", {
    material: z.array(z.uuid()).max(MOST_MENDS, `Select ${MOST_MENDS} materials at most: each is looked at.`),
    kind: z.enum(["seams", "even-out"]),
  }),
  intent("save-search", {
    name: nameField("the search"),
    params: z.string().max(4000).default(""),
    fills: z.boolean().default(false),
  }),
  intent("delete-search", { search: z.uuid() }),
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
    case "convert":
      return redirect(
        `/deliveries/new?selection=${await keepSelection(database(), mustBeSome(asked.material), person.id)}`,
      );
    case "remake":
    case "judge": {
      const judges = asked.intent === "judge";
      const { total, materials } = await startRemake(mustBeSome(asked.material), person, judges);
      return {
        done: judges
          ? `${materials === 1 ? "1 material is" : `${materials} materials are`} read and judged again.`
          : `${total === 1 ? "1 picture is" : `${total} pictures are`} made again.`,
        to: "/tidy#pictures",
      };
    }
    case "mend": {
      const { started, fine, refused } = await startMends(
        mustBeSome(asked.material),
        manyRecipe(asked.kind),
        person,
      );
      const said = [
        started === 0
          ? "None is mended."
          : `${started === 1 ? "1 is mended, and waits" : `${started} are mended, and wait`} to be looked at.`,
        ...(fine > 0 ? [`${fine} ${fine === 1 ? "shows" : "show"} no seam.`] : []),
        ...refused.slice(0, 3).map(({ name, reason }) => `${name}: ${reason}`),
        ...(refused.length > 3 ? [`${refused.length - 3} more were left.`] : []),
      ];
      return { done: said.join(" "), to: "/mends" };
    }
    case "save-search": {
      const { name } = asked;
      const search = readLibrarySearch(new URLSearchParams(asked.params));
      if (asked.fills)
        return redirect(`/collections/${await createFilledCollection({ name, search }, person)}`);
      await saveSearch({ name, search }, person);
      return { saved: name };
    }
    case "delete-search":
      await deleteSearch(asked.search);
      return { saved: null };
  }
});

/** @throws {Problem} where nothing is selected */
function mustBeSome(ids: string[]): string[] {
  if (ids.length === 0) throw badField("/material", "Select a material first.");
  return ids;
}

export default function Library({ loaderData }: Route.ComponentProps) {
  const { total, without, instead, pages, pageRows, all, search, choices, saved, hues, mayMake } = loaderData;
  const selection = useSelection();
  const wall = useWallPages({ ...loaderData, page: pages.page });
  const sumAreas = wall.held
    .filter(({ id, repeat }) => selection.ids.has(id) && repeat)
    .map(({ repeat }) => (repeat!.width * repeat!.height) / 1e6);
  useTitleBlock(
    selection.ids.size === 0
      ? "nothing"
      : `${selection.ids.size} ${selection.ids.size === 1 ? "material" : "materials"}`,
    sumAreas.length > 0 ? `${sumAreas.reduce((a, b) => a + b, 0).toFixed(2)} m² of repeats` : "",
  );
  useFresh((event) => event.topic === "library");
  const isReading = choices.likePicture?.state === "reading";
  useCatchUp(search.likePicture ?? "", isReading);

  return (
    <div className="page library">
      <h1 className="visually-hidden">Library</h1>
      <div className="sentence-row">
        <SearchSentence search={search} choices={choices} total={total} all={all} />
        <div className="acts">
          <SavedSearches saved={saved} mayMake={mayMake} />
          <Dropdown>
            <Dropdown.Toggle size="sm" variant="outline-secondary">
              More
            </Dropdown.Toggle>
            <Dropdown.Menu>
              {ELSEWHERE.map(([to, words]) => (
                <Dropdown.Item key={to} as={Link} to={to}>
                  {words}
                </Dropdown.Item>
              ))}
            </Dropdown.Menu>
          </Dropdown>
          {mayMake && (
            <>
              <Link
                to={`/sizes?${new URLSearchParams(searchParams({ ...search, sizeState: undefined }))}`}
                className="btn btn-outline-secondary btn-sm"
              >
                Find sizes
              </Link>
              <NewPlain />
              {selection.ids.size === 0 && total > 1 && <SelectAll total={total} search={search} />}
              <Link to="/intakes" className="btn btn-primary btn-sm">
                Take textures in
              </Link>
            </>
          )}
        </div>
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
      <HueChart fields={hues} search={search} />
      <DropPicture search={search}>
        <PlaceByDrag>
          {all === 0 ? (
            <Empty title="The library is empty">
              <p>
                Take in a download first: drop a zip or some images on <Link to="/intakes">Intake</Link>, look
                at what was recognised, and accept it.
              </p>
            </Empty>
          ) : total === 0 && isReading ? (
            <Empty title="The picture is being read">
              <p>What looks like it comes in a moment.</p>
            </Empty>
          ) : total === 0 ? (
            <Empty title="Nothing fits">
              <p>
                No material is all that the sentence says.{" "}
                {without.map(({ words, params, total: fits }) => (
                  <span key={words}>
                    <Link to={`/library?${params}`}>
                      Without {words} {fits} {fits === 1 ? "fits" : "fit"}
                    </Link>
                    .{" "}
                  </span>
                ))}
                <Link to="/library">Show all {all}</Link>.
              </p>
            </Empty>
          ) : (
            <EndlessWall
              label="Materials"
              pages={wall}
              startsAt={(pages.page - 1) * pageRows}
              mayDrag={mayMake}
            />
          )}
        </PlaceByDrag>
      </DropPicture>
      {/* The wall goes on by itself where there are scripts. */}
      <noscript>
        <Pages {...pages} />
      </noscript>
    </div>
  );
}

/** What belongs to the library and has a page of its own. */
const ELSEWHERE = [
  ["/lines", "Lines"],
  ["/licences", "Licences"],
  ["/alike", "What is alike"],
  ["/tidy", "What to tidy"],
  ["/mends", "What was mended"],
  ["/changes", "What was changed"],
] as const;

type LibraryData = Route.ComponentProps["loaderData"];

function SelectionActs({ mayMake, mayKeep, total, search }: LibraryData) {
  const [many, setMany] = useState<ManyKind>();
  const selection = useSelection();
  const fetcher = useFetcher<typeof action>();
  // Asked for once something is selected: the library's page needs no names of all collections.
  const { data: choices, load } = useFetcher<typeof loadChoices>();
  useEffect(() => void load("/choices"), [load]);
  const { collections, projects } = choices ?? { collections: [], projects: [] };
  const [newName, setNewName] = useState("");
  const ids = [...selection.ids];
  const send = (fields: Record<string, string>) => {
    const form = new FormData();
    for (const [name, value] of Object.entries(fields)) form.set(name, value);
    for (const id of ids) form.append("material", id);
    void fetcher.submit(form, { method: "post", action: "/library" });
  };
  const done =
    fetcher.data && !refusalOf(fetcher.data) && "done" in fetcher.data && fetcher.data.to !== undefined
      ? fetcher.data
      : undefined;
  return (
    <div className="selection-acts" role="group" aria-label="With the selected materials">
      <strong>{ids.length} selected</strong>
      {mayMake && (
        <>
          <Button size="sm" onClick={() => send({ intent: "convert" })}>
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
      {mayMake && (
        <Dropdown>
          <Dropdown.Toggle size="sm" variant="outline-secondary" disabled={!choices}>
            Change
          </Dropdown.Toggle>
          <Dropdown.Menu>
            {(Object.keys(MANY) as ManyKind[])
              .filter((kind) => kind !== "delete" || mayKeep)
              .map((kind) => (
                <Dropdown.Item key={kind} as="button" onClick={() => setMany(kind)}>
                  {MANY[kind]}
                </Dropdown.Item>
              ))}
            <Dropdown.Divider />
            <Dropdown.Item as="button" onClick={() => send({ intent: "mend", kind: "seams" })}>
              Mend seams
            </Dropdown.Item>
            <Dropdown.Item as="button" onClick={() => send({ intent: "mend", kind: "even-out" })}>
              Even out light and dark
            </Dropdown.Item>
            <Dropdown.Item as="button" onClick={() => send({ intent: "remake" })}>
              Make pictures again
            </Dropdown.Item>
            <Dropdown.Item as="button" onClick={() => send({ intent: "judge" })}>
              Judge again
            </Dropdown.Item>
            <Dropdown.Divider />
            <Dropdown.Item as={Link} to="/changes">
              What was changed
            </Dropdown.Item>
          </Dropdown.Menu>
        </Dropdown>
      )}
      <SelectAll total={total} search={search} />
      <Button size="sm" variant="link" onClick={() => selection.set([])}>
        Select nothing
      </Button>
      {done && (
        <span role="status">
          {done.done} <Link to={done.to}>Look</Link>
        </span>
      )}
      <Refusal result={fetcher.data} />
      {many && choices && (
        <ChangeMany
          key={many}
          ids={ids}
          what={many}
          choices={choices}
          onClose={(isDone) => {
            // What is no longer there is no longer selected.
            if (many === "delete" && isDone) selection.set([]);
            setMany(undefined);
          }}
        />
      )}
    </div>
  );
}

/** Selects all that the sentence finds, on whatever page. */
function SelectAll({ total, search }: Pick<LibraryData, "total" | "search">) {
  const { set } = useSelection();
  const { load, data } = useFetcher<typeof loadAll>();
  const params = new URLSearchParams(searchParams(search)).toString();
  const [asked, setAsked] = useState<typeof data>();
  // What comes is taken once: a selection that is changed after it stays as it is.
  useEffect(() => {
    if (!data || data === asked) return;
    setAsked(data);
    set(data.ids);
  }, [data, asked, set]);
  const most = Math.min(total, MOST_SELECTED);
  return (
    <Button
      size="sm"
      variant="link"
      className="select-all"
      onClick={() => void load(`/library/all?${params}`)}
    >
      {total > most ? `Select the first ${most}` : `Select all ${total}`}
    </Button>
  );
}

/** More than so many cannot be changed in one act. */
const MOST_SELECTED = 5000;

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
