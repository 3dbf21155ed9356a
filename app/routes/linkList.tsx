import { Alert } from "react-bootstrap";
import { Form, Link, redirect } from "react-router";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { removeLinkList } from "#server/links/list";
import { findLinkList } from "#server/links/listSql";
import { Button } from "../components/Button";
import { CheckedLinks } from "../destination/CheckedLinks";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, found, idOf, look } from "../guard";
import { useCatchUp, useFresh } from "../view/live";
import { moment } from "../view/moment";
import { useTitleBlock } from "../view/titleBlock";
import type { Route } from "./+types/linkList";

export const meta: Route.MetaFunction = ({ loaderData }) => [
  { title: `${loaderData?.list.name ?? "Links"} – Kalonomy` },
];

export const loader = look(async ({ params, person }: Route.LoaderArgs & { person: Person }) => ({
  list: found(await findLinkList(database(), idOf(params)), "list"),
  mayMake: mayDo(person, "make"),
}));

const ACTS = intents(intent("delete"));

export const action = act(async ({ params, form }: Route.ActionArgs & { form: FormData }) => {
  fieldsOf(form, ACTS);
  await removeLinkList(idOf(params));
  return redirect("/destinations");
});

/** What became of the paths that a list or a scene names. */
export default function LinkList({ loaderData }: Route.ComponentProps) {
  const { list, mayMake } = loaderData;
  useFresh((event) => event.topic === "library" && event.id === list.id);
  useCatchUp(list.id, list.state === "reading");
  useTitleBlock(list.name, `${list.found} paths`);
  return (
    <div className="page">
      <p className="path">
        <Link to="/deliveries">Deliveries</Link> / <Link to="/destinations">Destinations and links</Link>
      </p>
      <div className="sentence-row">
        <h1>{list.name}</h1>
        <div className="acts">
          {list.result && (
            <a
              className="btn btn-outline-secondary btn-sm"
              href={`/files/${list.result}`}
              download={`${list.name.replace(/\.[^.]*$/, "")}-links.csv`}
            >
              Download old and new paths
            </a>
          )}
          {mayMake && (
            <Form method="post">
              <input type="hidden" name="intent" value="delete" />
              <Button type="submit" size="sm" variant="outline-secondary">
                Delete
              </Button>
            </Form>
          )}
        </div>
      </div>
      <p className="dim">
        Handed in by {list.madeBy}, {moment(list.madeAt)}
      </p>
      {list.state === "failed" && (
        <Alert variant="warning" role="alert">
          {list.failure}
        </Alert>
      )}
      {list.state === "reading" && (
        <p role="status">
          {list.found > 0 ? `${list.lookedAt} of ${list.found} paths are looked for …` : "It is being read …"}
        </p>
      )}
      {list.leftOut > 0 && (
        <p className="mark look">
          {list.leftOut} {list.leftOut === 1 ? "line was" : "lines were"} left out: longer than a path can be,
          or past the first million.
        </p>
      )}
      {list.state === "done" && <CheckedLinks links={list.first} counts={list.counts} />}
    </div>
  );
}
