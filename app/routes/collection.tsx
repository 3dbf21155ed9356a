import { Form as Fields } from "react-bootstrap";
import { Form, Link, redirect } from "react-router";
import { z } from "zod";
import { searchParams } from "#core/library/librarySearch";
import { mayDo } from "#server/auth/levels";
import { stopFilling } from "#server/collection/filling";
import { findCollectionPlace, listCollectionNames } from "#server/collection/queries";
import { database } from "#server/db/database";
import { listSamples } from "#server/material/samples";
import { PAGE_ROWS, pageOf, sliceOf } from "#server/db/page";
import type { Person } from "#server/auth/person";
import { listProjectNames } from "#server/project/queries";
import { shareWithProject } from "#server/project/commands";
import { changeCollection, changeCollectionMembers, removeCollection } from "#server/collection/commands";
import { Button } from "../components/Button";
import { Chip } from "../components/Chip";
import { Empty } from "../components/Empty";
import { Refusal } from "../components/Refusal";
import { More, NameField } from "../components/More";
import { Pages } from "../components/Pages";
import { act, found, idOf, look } from "../guard";
import { fieldsOf, intent, intents, nameField, orNull } from "../fieldsOf";
import { pageIn } from "../pageIn";
import { PlaceByDrag } from "../library/PlaceByDrag";
import { EndlessWall } from "../library/EndlessWall";
import { useWallPages } from "../library/useWallPages";
import { useFresh } from "../view/live";
import { useSelection } from "../view/selection";
import { useTitleBlock } from "../view/titleBlock";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/collection";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.collection.name ?? "Collection"} – Kalonomy` },
];

export const loader = look(async ({ request, params, person }: Route.LoaderArgs & { person: Person }) => {
  const id = idOf(params);
  const db = database();
  const page = pageIn(request);
  const [here, { items, total }, all, projects] = await Promise.all([
    findCollectionPlace(db, id),
    listSamples(db, { collection: id, ...sliceOf(page) }),
    listCollectionNames(db),
    listProjectNames(db),
  ]);
  const collection = found(here.collection, "collection");
  return {
    collection,
    samples: items,
    total,
    search: { collection: id },
    pages: pageOf(page, total),
    pageRows: PAGE_ROWS,
    parent: all.find((one) => one.id === collection.parent) ?? null,
    inside: here.inside,
    others: all,
    projects,
    mayMake: mayDo(person, "make"),
    mayKeep: mayDo(person, "keep"),
  };
});

const ACTS = intents(
  intent("delete"),
  intent("change", { name: nameField("the collection"), parent: orNull(z.uuid()) }),
  intent("give", { project: z.uuid() }),
  intent("take", { project: z.uuid() }),
  intent("remove", { material: z.array(z.uuid()) }),
  intent("stop-filling"),
);

export const action = act(async ({ params, form }: Route.ActionArgs & { form: FormData }) => {
  const id = idOf(params);
  const asked = fieldsOf(form, ACTS);
  switch (asked.intent) {
    case "delete":
      await removeCollection(id);
      return redirect("/collections");
    case "change":
      await changeCollection(id, { name: asked.name, parent: asked.parent });
      return { changed: true };
    case "give":
      await shareWithProject(asked.project, "collections", { add: [id], remove: [] });
      return null;
    case "take":
      await shareWithProject(asked.project, "collections", { add: [], remove: [id] });
      return null;
    case "stop-filling":
      await stopFilling(id);
      return null;
    case "remove":
      await changeCollectionMembers(id, { add: [], remove: asked.material });
      return null;
  }
});

export default function Collection({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useKept(answer);
  const { collection, total, pages, pageRows, others, parent, inside, projects, mayMake, mayKeep } =
    loaderData;
  const selection = useSelection();
  const wall = useWallPages({ ...loaderData, page: pages.page });
  const selected = wall.held.filter(({ id }) => selection.ids.has(id));
  useFresh((event) => event.topic === "library");
  useTitleBlock(
    selected.length === 0 ? "nothing" : `${selected.length} of ${total}`,
    `${total} ${total === 1 ? "material" : "materials"} in ${collection.name}`,
  );
  // What fills itself gives nothing away.
  const isByHand = mayMake && !collection.search;
  const free = projects.filter(({ id }) => !collection.projects.some((project) => project.id === id));
  return (
    <div className="page">
      <p className="path">
        <Link to="/collections">Collections</Link>
        {parent && (
          <>
            {" / "}
            <Link to={`/collections/${parent.id}`}>{parent.name}</Link>
          </>
        )}
      </p>
      <div className="sentence-row">
        <h1>{collection.name}</h1>
        <div className="acts">
          {mayMake && total > 0 && (
            <Link className="btn btn-primary btn-sm" to={`/deliveries/new?collection=${collection.id}`}>
              Convert and deliver
            </Link>
          )}
          {mayMake && !collection.search && selected.length > 0 && (
            <Form method="post">
              <input type="hidden" name="intent" value="remove" />
              {selected.map(({ id }) => (
                <input key={id} type="hidden" name="material" value={id} />
              ))}
              <Button type="submit" size="sm" variant="outline-secondary">
                Take {selected.length} out
              </Button>
            </Form>
          )}
          {mayMake && (
            <Rename key={`${collection.name}${collection.parent}`} of={collection} others={others} />
          )}
          {mayKeep && (
            <Form
              method="post"
              onSubmit={(event) => {
                if (
                  !confirm(
                    `Delete the collection “${collection.name}”? Its materials stay in the library; projects that take it lose it.`,
                  )
                )
                  event.preventDefault();
              }}
            >
              <input type="hidden" name="intent" value="delete" />
              <Button type="submit" size="sm" variant="outline-danger">
                Delete
              </Button>
            </Form>
          )}
        </div>
      </div>
      <Refusal result={actionData} />
      {collection.search && (
        <p>
          It fills itself with{" "}
          <Link to={`/library?${new URLSearchParams(searchParams(collection.search))}`}>
            what a search finds
          </Link>
          .{" "}
          {mayMake && (
            <Form method="post" className="inline-act">
              <input type="hidden" name="intent" value="stop-filling" />
              <Button type="submit" variant="link" size="sm">
                Stop filling it
              </Button>
            </Form>
          )}
        </p>
      )}
      <div className="shared-by">
        <span>Shared by</span>
        {collection.projects.length === 0 && <span className="dim">no project yet</span>}
        {collection.projects.map(({ id, name }) => (
          <Chip
            key={id}
            to={`/projects/${id}`}
            name={name}
            remove={
              mayMake ? { label: `Take it from ${name}`, fields: { intent: "take", project: id } } : undefined
            }
          />
        ))}
        {mayMake && free.length > 0 && (
          <Form method="post" className="row-form small">
            <input type="hidden" name="intent" value="give" />
            <Fields.Select size="sm" name="project" aria-label="Project to give it to">
              {free.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </Fields.Select>
            <Button type="submit" size="sm" variant="outline-secondary">
              Give to project
            </Button>
          </Form>
        )}
      </div>
      {inside.length > 0 && (
        <p>
          Inside it:{" "}
          {inside.map(({ id, name, count }, at) => (
            <span key={id}>
              {at > 0 && ", "}
              <Link to={`/collections/${id}`}>{name}</Link> <span className="number dim">{count}</span>
            </span>
          ))}
        </p>
      )}
      <PlaceByDrag from={collection.id} shown={wall.held.map(({ id }) => id)}>
        {total === 0 ? (
          <Empty title="Nothing in it yet">
            <p>
              Select materials in the <Link to="/library">library</Link> and add them to this collection.
            </p>
          </Empty>
        ) : (
          <EndlessWall
            label={`Materials of ${collection.name}`}
            pages={wall}
            startsAt={(pages.page - 1) * pageRows}
            mayDrag={isByHand}
          />
        )}
      </PlaceByDrag>
      <noscript>
        <Pages {...pages} />
      </noscript>
    </div>
  );
}

interface RenameProps {
  of: { id: string; name: string; parent: string | null };
  others: { id: string; name: string; parent: string | null }[];
}

/** Another name, or another place; not inside itself. */
function Rename({ of, others }: RenameProps) {
  const isInside = (id: string | null): boolean =>
    id === of.id || (id !== null && isInside(others.find((one) => one.id === id)?.parent ?? null));
  return (
    <More label="Rename or move" intent="change">
      <NameField name={of.name} />
      <Fields.Select size="sm" name="parent" aria-label="Inside" defaultValue={of.parent ?? ""}>
        <option value="">by itself</option>
        {others
          .filter(({ id }) => !isInside(id))
          .map(({ id, name }) => (
            <option key={id} value={id}>
              inside {name}
            </option>
          ))}
      </Fields.Select>
    </More>
  );
}
