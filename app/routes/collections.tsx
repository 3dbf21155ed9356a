import { Form as Fields } from "react-bootstrap";
import { Form, Link, redirect } from "react-router";
import { z } from "zod";
import { mayDo } from "#server/auth/levels";
import { listCollectionSummaries, type CollectionSummary } from "#server/collection/queries";
import { createCollection } from "#server/collection/commands";
import { database } from "#server/db/database";
import type { Person } from "#server/auth/person";
import { LedgerHead } from "../components/LedgerHead";
import { Button } from "../components/Button";
import { Empty } from "../components/Empty";
import { Refusal } from "../components/Refusal";
import { act, look } from "../guard";
import { fieldsOf, nameField, orNull } from "../fieldsOf";
import { useFresh } from "../view/live";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/collections";

export const meta: Route.MetaFunction = () => [{ title: "Collections – Kalonomy" }];

export const loader = look(async ({ person }: Route.LoaderArgs & { person: Person }) => ({
  collections: await listCollectionSummaries(database()),
  mayMake: mayDo(person, "make"),
}));

const NEW = z.object({ name: nameField("the collection"), parent: orNull(z.uuid()) });

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const id = await createCollection(fieldsOf(form, NEW), person);
  return redirect(`/collections/${id}`);
});

export default function Collections({
  loaderData: { collections, mayMake },
  actionData: answer,
}: Route.ComponentProps) {
  const actionData = useKept(answer);
  useFresh((event) => event.topic === "library");
  const rows = inOrder(collections);
  return (
    <div className="page">
      <h1>Collections</h1>
      {mayMake && (
        <Form method="post" className="row-form" aria-label="New collection">
          <Fields.Control
            name="name"
            placeholder="Name of a new collection"
            aria-label="Name of a new collection"
            required
            maxLength={200}
          />
          <Fields.Select name="parent" aria-label="Inside" defaultValue="">
            <option value="">by itself</option>
            {collections.map(({ id, name }) => (
              <option key={id} value={id}>
                inside {name}
              </option>
            ))}
          </Fields.Select>
          <Button type="submit">Create</Button>
        </Form>
      )}
      <Refusal result={actionData} />
      {rows.length === 0 ? (
        <Empty title="No collections yet">
          <p>Create one above, or select materials in the library and add them to a new one.</p>
        </Empty>
      ) : (
        <table className="ledger">
          <LedgerHead columns={["Collection", { number: "Materials" }, "Shared by"]} />
          <tbody>
            {rows.map(({ collection, depth }) => (
              <tr key={collection.id}>
                <td style={{ paddingLeft: `${0.5 + depth * 1.5}rem` }}>
                  {depth > 0 && <span className="dim">└ </span>}
                  <Link to={`/collections/${collection.id}`}>{collection.name}</Link>
                </td>
                <td className="number">{collection.count}</td>
                <td>
                  {collection.projects.length === 0 && (
                    <span className="dim">{throughParent(collections, collection) ?? "no project yet"}</span>
                  )}
                  {collection.projects.map(({ id, name }, at) => (
                    <span key={id}>
                      {at > 0 && ", "}
                      <Link to={`/projects/${id}`}>{name}</Link>
                    </span>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

/** A collection that lies in a shared one is shared along with it. */
function throughParent(collections: CollectionSummary[], collection: CollectionSummary): string | undefined {
  const parent = collections.find(({ id }) => id === collection.parent);
  if (!parent) return undefined;
  if (parent.projects.length === 0) return throughParent(collections, parent);
  return `${parent.projects.map(({ name }) => name).join(", ")}, through ${parent.name}`;
}

/** Each collection under the one it lies in. */
function inOrder(
  collections: CollectionSummary[],
  parent: string | null = null,
  depth = 0,
): { collection: CollectionSummary; depth: number }[] {
  return collections
    .filter((collection) => collection.parent === parent)
    .flatMap((collection) => [{ collection, depth }, ...inOrder(collections, collection.id, depth + 1)]);
}
